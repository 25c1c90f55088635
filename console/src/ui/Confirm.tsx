import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material'
import { useState, type ReactNode } from 'react'
import { Trouble } from './State'

interface ConfirmProps {
  /** What the button says, and what the dialog asks. */
  button: string
  title: string
  /** Exactly what it will do. */
  children: ReactNode
  /** Whether it cannot be done; what it says then is why. */
  forbidden?: boolean
  /** Told when the dialog opens and closes. */
  onOpen?: (open: boolean) => void
  busy: boolean
  error: unknown
  onDo: () => void
}

/** A button for what takes something away: it says what it will do, with numbers, before it does it. */
export function Confirm({ button, title, children, forbidden = false, onOpen, busy, error, onDo }: ConfirmProps) {
  const [open, show] = useState(false)
  const setOpen = (now: boolean) => {
    show(now)
    onOpen?.(now)
  }
  return (
    <>
      <Button onClick={() => setOpen(true)}>{button} …</Button>
      <Dialog open={open} onClose={() => setOpen(false)} aria-labelledby="confirm-title" fullWidth maxWidth="sm">
        <DialogTitle id="confirm-title">{title}</DialogTitle>
        <DialogContent>
          {children}
          {error ? <Trouble error={error} /> : null}
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setOpen(false)}>Leave it as it is</Button>
          <Button variant="contained" color="error" disabled={busy || forbidden} onClick={onDo}>
            {button}
          </Button>
        </DialogActions>
      </Dialog>
    </>
  )
}
