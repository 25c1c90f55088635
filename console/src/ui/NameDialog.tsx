import { Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField, Typography } from '@mui/material'
import { useState } from 'react'
import { Trouble } from './State'

interface NameDialogProps {
  title: string
  /** What will come of it. */
  children: string
  label: string
  /** What the button says that does it. */
  button: string
  /** The name to begin with. */
  name?: string
  busy: boolean
  error: unknown
  onClose: () => void
  onDo: (name: string) => void
  /** What a second button says that does it with no name at all; there is none where this is absent. */
  clear?: string
}

/** Asks for a name, and says what will be done with it. */
export function NameDialog(props: NameDialogProps) {
  const { title, children, label, button, name = '', busy, error, onClose, onDo, clear } = props
  const [text, setText] = useState(name)
  const chosen = text.trim()
  const possible = chosen !== '' && chosen !== name && !busy
  return (
    <Dialog open onClose={onClose} aria-labelledby="name-title" fullWidth maxWidth="xs">
      <DialogTitle id="name-title">{title}</DialogTitle>
      <DialogContent>
        <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
          {children}
        </Typography>
        <TextField
          autoFocus
          fullWidth
          variant="standard"
          label={label}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => event.key === 'Enter' && possible && onDo(chosen)}
        />
        {error ? <Trouble error={error} /> : null}
      </DialogContent>
      <DialogActions>
        {clear && (
          <Button disabled={busy} onClick={() => onDo('')} sx={{ mr: 'auto' }}>
            {clear}
          </Button>
        )}
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" onClick={() => onDo(chosen)} disabled={!possible}>
          {button}
        </Button>
      </DialogActions>
    </Dialog>
  )
}
