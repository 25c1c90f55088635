import { Box, Button, Checkbox, Link as Anchor, Stack, TextField, Typography } from '@mui/material'
import { useState } from 'react'
import { useFolder } from '../api/hooks'
import { counted, grouped, moment, size } from '../ui/format'
import { Trouble, Wait } from '../ui/State'

interface FolderBrowserProps {
  /** The folder that is open; empty for the top. */
  at: string
  /** Folders or files that were chosen. */
  chosen: string[]
  onAt: (at: string) => void
  onChoose: (paths: string[]) => void
}

/** The folders that the service may read, with what lies in them. */
export function FolderBrowser(props: FolderBrowserProps) {
  const { at, onAt } = props
  const [typed, setTyped] = useState(at)
  return (
    <>
      <Stack
        component="form"
        direction="row"
        sx={{ gap: 1, alignItems: 'baseline', mb: 1, maxWidth: 720 }}
        onSubmit={(event) => {
          event.preventDefault()
          onAt(typed.trim())
        }}
      >
        <TextField
          fullWidth
          variant="standard"
          label="Folder, here or elsewhere: sftp://ACCOUNT/PATH, s3://ACCOUNT/BUCKET/PATH"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        <Button type="submit">Open</Button>
      </Stack>
      <Content key={at} {...props} />
    </>
  )
}

function Content({ at, chosen, onAt, onChoose }: FolderBrowserProps) {
  const folder = useFolder(at)
  if (folder.isPending) return <Wait what="Reading the folder" />
  if (folder.isError) return <Trouble error={folder.error} />
  const { path, above, folders, files, more } = folder.data
  const toggle = (file: string) =>
    onChoose(chosen.includes(file) ? chosen.filter((one) => one !== file) : [...chosen, file])
  return (
    <>
      <Stack direction="row" sx={{ alignItems: 'center', gap: 2, mb: 1, flexWrap: 'wrap' }}>
        {above !== undefined && (
          <Anchor component="button" type="button" onClick={() => onAt(above)}>
            ↑ up
          </Anchor>
        )}
        <Typography sx={{ fontFamily: (theme) => theme.mono, flex: 1 }}>
          {path === '' ? 'the workspace' : path}
        </Typography>
        <Button
          variant={chosen.length > 0 ? 'text' : 'contained'}
          disabled={files.length === 0 && folders.length === 0}
          onClick={() => onChoose([path === '' ? '.' : path])}
        >
          Draft from this folder
        </Button>
      </Stack>
      <Box
        sx={{
          border: 1,
          borderColor: 'divider',
          maxHeight: 260,
          overflowY: 'auto',
          '& > *': { borderBottom: 1, borderColor: 'divider', px: 1.5, py: 0.5 },
          '& > *:last-child': { borderBottom: 0 },
        }}
      >
        {folders.map((one) => (
          <Stack key={one.path} direction="row" sx={{ justifyContent: 'space-between', gap: 2 }}>
            <Anchor component="button" type="button" onClick={() => onAt(one.path)}>
              {one.name}/
            </Anchor>
            {(one.files as number | undefined) !== undefined && (
              <Typography variant="body2" color="textSecondary">
                {counted(one.files, 'file')}
              </Typography>
            )}
          </Stack>
        ))}
        {files.map((one) => (
          <Stack key={one.path} direction="row" sx={{ alignItems: 'center', gap: 1 }}>
            <Checkbox
              size="small"
              sx={{ p: 0.25 }}
              checked={chosen.includes(one.path)}
              onChange={() => toggle(one.path)}
              slotProps={{ input: { 'aria-label': `Draft from ${one.name}` } }}
            />
            <Typography variant="body2" sx={{ fontFamily: (theme) => theme.mono, flex: 1 }}>
              {one.name}
            </Typography>
            <Typography variant="body2" color="textSecondary">
              {size(one.size)} · {moment(one.modified)}
            </Typography>
          </Stack>
        ))}
        {folders.length === 0 && files.length === 0 && (
          <Typography color="textSecondary">This folder is empty.</Typography>
        )}
        {more > 0 && (
          <Typography variant="body2" color="textSecondary">
            and {grouped(more)} more files that are not listed
          </Typography>
        )}
      </Box>
    </>
  )
}
