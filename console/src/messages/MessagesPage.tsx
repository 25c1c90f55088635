import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Link as Anchor,
  Typography,
} from '@mui/material'
import { Link } from 'react-router'
import type { MessageView } from '../api/client'
import { useMessage, useMessages } from '../api/hooks'
import { useAddress } from '../ui/address'
import { DataTable, type TableColumn } from '../ui/DataTable'
import { moment } from '../ui/format'
import { Section, Trouble, Wait } from '../ui/State'

/** Who was told of what, and what cannot be sent. */
export function MessagesPage() {
  const messages = useMessages()
  const address = useAddress()
  const opened = Number(address.get('message') ?? '')
  if (messages.isPending) return <Wait what="Reading the messages" />
  if (messages.isError) return <Trouble error={messages.error} />
  return (
    <Section main title="Messages">
      {messages.data.length === 0 ? (
        <Typography>
          No message was made yet. In a job’s file, <code>notify: {'[{by: ACCOUNT, to: ADDRESS}]'}</code> has somebody
          told when a run fails, rejects something, or a file is late or missing.
        </Typography>
      ) : (
        <DataTable
          label="Messages"
          columns={COLUMNS}
          count={messages.data.length}
          row={(index) => messages.data[index]}
          onOpen={(one) => address.set('message', String(one.number))}
          empty=""
          maxHeight="70vh"
        />
      )}
      {opened > 0 && <MessageDialog number={opened} onClose={() => address.set('message', '')} />}
    </Section>
  )
}

const COLUMNS: TableColumn<MessageView>[] = [
  { key: 'made', title: 'Made', width: 20, render: (one) => moment(one.madeAt) },
  {
    key: 'state',
    title: 'State',
    width: 12,
    render: (one) => (
      <Box component="span" title={one.failure} sx={{ color: one.failure ? 'error.main' : undefined }}>
        {one.state.replace('_', ' ')}
      </Box>
    ),
  },
  { key: 'account', title: 'By', width: 14, render: (one) => one.account },
  { key: 'to', title: 'To', width: 30, render: (one) => one.to },
  { key: 'subject', title: 'Subject', width: 64, render: (one) => one.subject },
]

function MessageDialog({ number, onClose }: { number: number; onClose: () => void }) {
  const message = useMessage(number)
  return (
    <Dialog open onClose={onClose} aria-labelledby="message-title" fullWidth maxWidth="lg">
      <DialogTitle id="message-title">{message.data?.subject ?? 'Message'}</DialogTitle>
      <DialogContent>
        {message.isPending && <Wait what="Reading the message" />}
        {message.isError && <Trouble error={message.error} />}
        {message.data && (
          <>
            <Typography color="textSecondary">
              {message.data.state.replace('_', ' ')} {message.data.endedAt ? moment(message.data.endedAt) : ''} by{' '}
              {message.data.account}
              {message.data.to ? ` to ${message.data.to}` : ''}
              {message.data.nextAt ? `, next at ${moment(message.data.nextAt)}` : ''}
            </Typography>
            {message.data.failure && <Typography color="error">{message.data.failure}</Typography>}
            {message.data.run !== undefined && (
              <Anchor component={Link} to={`/runs/${message.data.run}`}>
                run {message.data.run}
              </Anchor>
            )}
            <Box
              component="pre"
              tabIndex={0}
              aria-label="Text"
              sx={{ overflow: 'auto', fontFamily: (theme) => theme.mono, fontSize: '0.76rem', lineHeight: 1.5 }}
            >
              {message.data.text}
            </Box>
          </>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}
