import { Box, Button, Link as Anchor, Stack, Typography } from '@mui/material'
import { useState } from 'react'
import { Link } from 'react-router'
import type { Delivery, Handover } from '../api/client'
import { useDeliver, useDeliveries, useDelivery, useDeliveryTrial } from '../api/hooks'
import { DataTable, type TableColumn } from '../ui/DataTable'
import { counted, grouped, moment, size } from '../ui/format'
import { Section, Trouble, Wait } from '../ui/State'

interface DeliveriesProps {
  dataset: string
  /** The delivery that is shown in full. */
  delivery: string | undefined
  onDelivery: (delivery: string) => void
}

/** What is handed over by itself or on call; the one that is chosen in full. */
export function DeliveriesView({ dataset, delivery, onDelivery }: DeliveriesProps) {
  const deliveries = useDeliveries(dataset)
  if (deliveries.isPending) return <Wait what="Reading the deliveries" />
  if (deliveries.isError) return <Trouble error={deliveries.error} />
  const all = deliveries.data
  if (all.length === 0)
    return (
      <Typography color="textSecondary">
        The dataset’s file declares no deliveries. Write: <code>{'deliver: [{name: labs, to: "out/{lab}.csv"}]'}</code>
      </Typography>
    )
  const chosen = all.find((one) => one.name === delivery) ?? all[0]!
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: '1fr', lg: 'minmax(0, 1fr) minmax(0, 1fr)' },
        gap: 4,
        alignItems: 'start',
      }}
    >
      <DataTable
        label="Deliveries"
        columns={table(chosen.name)}
        count={all.length}
        row={(index) => all[index]}
        onOpen={(one) => onDelivery(one.name)}
        empty="No deliveries."
        maxHeight="calc(100vh - 300px)"
      />
      <Chosen key={chosen.name} dataset={dataset} delivery={chosen} />
    </Box>
  )
}

function state(delivery: Delivery): string {
  if (!delivery.last) return 'never'
  return `${delivery.last.state} ${moment(delivery.last.endedAt ?? delivery.last.queuedAt)}`
}

const table = (chosen: string): TableColumn<Delivery>[] => [
  {
    key: 'name',
    title: 'Delivery',
    width: 14,
    fixed: true,
    render: (one) => <span style={{ fontWeight: one.name === chosen ? 600 : 400 }}>{one.name}</span>,
  },
  {
    key: 'when',
    title: 'When',
    width: 16,
    fixed: true,
    render: (one) => (!one.declared ? 'not declared any more' : one.eachRun ? 'after each run' : 'on call'),
  },
  { key: 'files', title: 'Files', width: 7, right: true, fixed: true, render: (one) => grouped(one.files) },
  {
    key: 'last',
    title: 'Last',
    width: 24,
    fixed: true,
    render: (one) => (
      <Typography variant="body2" color={one.last?.state === 'failed' ? 'error' : 'textPrimary'}>
        {state(one)}
      </Typography>
    ),
  },
]

function Chosen({ dataset, delivery }: { dataset: string; delivery: Delivery }) {
  const detail = useDelivery(dataset, delivery.name)
  const deliver = useDeliver(dataset, delivery.name)
  const trial = useDeliveryTrial(dataset, delivery.name)
  const [tried, setTried] = useState<Handover | null>(null)
  const isTable = delivery.format === 'table'
  const busy = deliver.isPending || delivery.last?.state === 'queued'
  return (
    <Box>
      <Stack direction="row" sx={{ alignItems: 'baseline', gap: 2, flexWrap: 'wrap' }}>
        <Typography variant="h2">{delivery.name}</Typography>
        <Typography color="textSecondary" sx={{ flex: 1 }}>
          {delivery.about}
        </Typography>
        {delivery.declared && (
          <>
            <Button disabled={trial.isPending} onClick={() => trial.mutate(undefined, { onSuccess: setTried })}>
              Try
            </Button>
            <Button
              variant="contained"
              disabled={busy}
              onClick={() => {
                setTried(null)
                deliver.mutate()
              }}
            >
              {busy ? 'Delivering …' : 'Deliver now'}
            </Button>
          </>
        )}
      </Stack>
      <Typography sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.82rem', my: 1, overflowWrap: 'anywhere' }}>
        {delivery.to}
      </Typography>
      {delivery.last?.state === 'failed' && (
        <Box role="alert" sx={{ border: 1, borderColor: 'error.main', color: 'error.main', px: 2, py: 1, my: 1.5 }}>
          {delivery.last.failure}
          {delivery.nextTry
            ? `. It is tried again at ${moment(delivery.nextTry)}.`
            : '. It is not tried again before rows change or somebody calls for it.'}
        </Box>
      )}
      {deliver.isError && <Trouble error={deliver.error} />}
      {trial.isError && <Trouble error={trial.error} />}
      {tried && (
        <Section title="What it would do">
          <Typography>
            {isTable ? 'Rows of ' : ''}
            {counted(tried.written, 'file')} would be written, {grouped(tried.unchanged)} unchanged,{' '}
            {grouped(tried.removed)} removed; {counted(tried.rows, 'row')} {isTable ? 'in the table' : 'in all'}
          </Typography>
          {tried.notes.map((note) => (
            <Typography key={note} color="error">
              {note}
            </Typography>
          ))}
          {tried.changed.slice(0, SHOWN).map((file) => (
            <Line
              key={file.path}
              left={file.path}
              right={`${file.change.toLowerCase()} ${counted(file.rows, 'row')}`}
            />
          ))}
        </Section>
      )}
      {detail.isPending && <Wait what="Reading its history" />}
      {detail.isError && <Trouble error={detail.error} />}
      {detail.data && (
        <>
          <Section title="History">
            {detail.data.history.length === 0 && <Typography color="textSecondary">It was never done.</Typography>}
            {detail.data.history.slice(0, TIMES).map((one) => (
              <Stack key={one.number} direction="row" sx={{ borderTop: 1, borderColor: 'divider', py: 0.6, gap: 2 }}>
                <Typography variant="body2" sx={{ width: '9.5rem' }}>
                  {moment(one.endedAt ?? one.queuedAt)}
                </Typography>
                <Typography variant="body2" sx={{ width: '5rem' }}>
                  {one.run ? (
                    <Anchor component={Link} to={`/runs/${one.run}`}>
                      run {one.run}
                    </Anchor>
                  ) : (
                    ''
                  )}
                </Typography>
                <Typography
                  variant="body2"
                  component="div"
                  color={one.state === 'failed' ? 'error' : 'textPrimary'}
                  sx={{ flex: 1, overflowWrap: 'anywhere' }}
                >
                  {one.state === 'failed'
                    ? `failed: ${one.failure}`
                    : `${grouped(one.written)} written, ${grouped(one.unchanged)} unchanged, ${grouped(one.removed)} removed; ${counted(one.rows, 'row')}`}
                  {one.notes.map((note) => (
                    <Typography key={note} variant="body2" color="error" sx={{ overflowWrap: 'anywhere' }}>
                      {note}
                    </Typography>
                  ))}
                </Typography>
              </Stack>
            ))}
          </Section>
          {isTable && delivery.last?.state === 'done' && (
            <Typography color="textSecondary" sx={{ mt: 2 }}>
              The table has {counted(delivery.last.rows, 'row')} of {counted(delivery.files, 'file')}. What it has is
              written down beside it, in <code>hapster_delivery</code> and <code>hapster_part</code>.
            </Typography>
          )}
          {!isTable && (
            <Section title={counted(detail.data.products.length, 'file')}>
              {detail.data.products.slice(0, SHOWN).map((file) => (
                <Line key={file.path} left={file.path} right={`${counted(file.rows, 'row')}, ${size(file.bytes)}`} />
              ))}
              {detail.data.products.length > SHOWN && (
                <Typography variant="body2" color="textSecondary">
                  … and {grouped(detail.data.products.length - SHOWN)} more: hapster deliver {dataset} {delivery.name}{' '}
                  --history
                </Typography>
              )}
            </Section>
          )}
        </>
      )}
    </Box>
  )
}

const SHOWN = 40
const TIMES = 10

function Line({ left, right }: { left: string; right: string }) {
  return (
    <Stack direction="row" sx={{ borderTop: 1, borderColor: 'divider', py: 0.4, gap: 2 }}>
      <Typography sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.82rem', flex: 1, overflowWrap: 'anywhere' }}>
        {left}
      </Typography>
      <Typography variant="body2" sx={{ textAlign: 'right' }}>
        {right}
      </Typography>
    </Stack>
  )
}
