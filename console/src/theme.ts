import { createTheme, type Theme } from '@mui/material/styles'

export type Mode = 'light' | 'dark'

/** How each outcome looks: a colour and a pattern, so that neither alone carries the meaning. */
export interface OutcomeLook {
  background: string
  border: string
  text: string
}

const mono = '"IBM Plex Mono", monospace'
const sans = '"Source Sans 3 Variable", sans-serif'

declare module '@mui/material/styles' {
  interface Theme {
    mono: string
    outcome: Record<string, OutcomeLook>
  }
  interface ThemeOptions {
    mono?: string
    outcome?: Record<string, OutcomeLook>
  }
}

function outcomes(mode: Mode): Record<string, OutcomeLook> {
  const light = mode === 'light'
  const petrol = light ? '#0F6B73' : '#22767D'
  const slate = light ? '#8A97A3' : '#66737F'
  const vermilion = light ? '#C8452F' : '#C8492F'
  const violet = light ? '#6F63A8' : '#7F74B8'
  const paper = light ? '#FBF8F3' : '#12181D'
  const ink = light ? '#1B2430' : '#EDE8DF'
  return {
    loaded: { background: petrol, border: petrol, text: '#FFFFFF' },
    replaced: {
      background: `radial-gradient(${paper}66 1px, transparent 1.4px) 0 0 / 6px 6px, ${petrol}`,
      border: petrol,
      text: '#FFFFFF',
    },
    unchanged: { background: slate, border: slate, text: light ? '#10171F' : '#FFFFFF' },
    aside: {
      background: `repeating-linear-gradient(90deg, ${violet} 0 7px, ${light ? '#60559A' : '#7166AA'} 7px 8px)`,
      border: violet,
      text: '#FFFFFF',
    },
    repeated: {
      background: `repeating-linear-gradient(0deg, transparent 0 4px, ${violet}40 4px 5px)`,
      border: violet,
      text: ink,
    },
    rejected: {
      background: `repeating-linear-gradient(135deg, ${vermilion} 0 6px, ${light ? '#B23A26' : '#B8462F'} 6px 12px)`,
      border: vermilion,
      text: '#FFFFFF',
    },
    waiting: { background: 'transparent', border: slate, text: ink },
    notReached: { background: 'transparent', border: slate, text: ink },
  }
}

export function themeOf(mode: Mode): Theme {
  const light = mode === 'light'
  const rule = light ? '#DDD5C8' : '#2B343C'
  return createTheme({
    mono,
    outcome: outcomes(mode),
    palette: {
      mode,
      primary: { main: light ? '#0F6B73' : '#5CB8BF' },
      error: { main: light ? '#B23A26' : '#EE8269' },
      background: { default: light ? '#FBF8F3' : '#12181D', paper: light ? '#FBF8F3' : '#161D23' },
      text: { primary: light ? '#1B2430' : '#EDE8DF', secondary: light ? '#55606B' : '#A7B0B8' },
      divider: rule,
    },
    shape: { borderRadius: 3 },
    typography: {
      fontFamily: sans,
      fontSize: 14,
      h1: { fontSize: '1.45rem', fontWeight: 600 },
      h2: { fontSize: '1.02rem', fontWeight: 600 },
      button: { textTransform: 'none', fontWeight: 600 },
    },
    components: {
      MuiButtonBase: { defaultProps: { disableRipple: true } },
      MuiButton: { defaultProps: { disableElevation: true, size: 'small' } },
      MuiPaper: { defaultProps: { elevation: 0 } },
      MuiLink: { styleOverrides: { root: { textUnderlineOffset: 3, textDecorationThickness: 1 } } },
      MuiCssBaseline: {
        styleOverrides: {
          body: { fontVariantNumeric: 'tabular-nums' },
          ':focus-visible': { outline: `2px solid ${light ? '#0F6B73' : '#5CB8BF'}`, outlineOffset: 2 },
        },
      },
    },
  })
}
