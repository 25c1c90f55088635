import { Box, Link as Anchor, Stack, Typography } from '@mui/material'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import type { FileColumn, FilesProfile } from '../api/client'
import { useJobProfile } from '../api/hooks'
import { about, InFull, share } from '../dataset/ProfileView'
import { DataTable, type TableColumn } from '../ui/DataTable'
import { counted, grouped } from '../ui/format'
import { Section, Trouble, Wait } from '../ui/State'

/** What the columns of a job's files hold, before anything is loaded. */
export function JobProfilePage() {
  const job = useParams().job!
  const profile = useJobProfile(job)
  return (
    <>
      <Stack direction="row" sx={{ alignItems: 'baseline', gap: 2, mb: 2, flexWrap: 'wrap' }}>
        <Typography variant="h1">
          <Anchor component={Link} to={`/jobs/${job}`} color="inherit">
            {job}
          </Anchor>
          : profile
        </Typography>
        <Typography color="textSecondary" sx={{ flex: 1 }}>
          {profile.data && summary(profile.data)}
        </Typography>
      </Stack>
      {profile.isPending && <Wait what="Reading every row of every file" />}
      {profile.isError && <Trouble error={profile.error} />}
      {profile.data &&
        (judged(profile.data) === 0 ? (
          <Typography color="textSecondary">
            The files that the job takes have no rows, so there is nothing to look at.
          </Typography>
        ) : (
          <Found profile={profile.data} />
        ))}
    </>
  )
}

/** Rows that would be loaded or rejected. */
const judged = (profile: FilesProfile) => profile.rows - profile.aside

const summary = (profile: FilesProfile) =>
  `${counted(profile.rows, 'row')} in ${counted(profile.files, 'file')}, ${grouped(profile.rejected)} rejected` +
  (profile.aside > 0 ? `, ${grouped(profile.aside)} set aside by the job’s rules` : '') +
  '; nothing was loaded'

const rejected = (column: FileColumn) => column.rejected.reduce((sum, fault) => sum + fault.rows, 0)

function Found({ profile }: { profile: FilesProfile }) {
  const [name, setName] = useState('')
  const { columns } = profile
  const chosen = columns.find((one) => one.profile.name === name) ?? columns[0]!
  const looks = [
    ...profile.notes,
    ...columns.flatMap((one) => [
      ...one.rejected.map(
        (fault) => `${one.profile.name}: ${fault.code} rejects ${counted(fault.rows, 'row')}, first ${fault.first}`,
      ),
      ...one.profile.remarks.map((remark) => `${one.profile.name}: ${remark.what}`),
    ]),
    ...profile.whole.map((fault) => `${fault.code} rejects ${counted(fault.rows, 'row')}, first ${fault.first}`),
  ]
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: '1fr', lg: 'minmax(0, 3fr) minmax(0, 2fr)' },
        gap: 4,
        alignItems: 'start',
      }}
    >
      <Box>
        <DataTable
          label="Columns"
          columns={table(chosen.profile.name, judged(profile))}
          count={columns.length}
          row={(index) => columns[index]}
          onOpen={(one) => setName(one.profile.name)}
          empty="No columns."
          maxHeight="calc(100vh - 260px)"
        />
        {looks.length > 0 && (
          <Box sx={{ mt: 3 }}>
            <Section title="Worth a look">
              {looks.map((look) => (
                <Typography
                  key={look}
                  sx={{ borderTop: 1, borderColor: 'divider', py: 0.75, overflowWrap: 'anywhere' }}
                >
                  {look}
                </Typography>
              ))}
            </Section>
          </Box>
        )}
      </Box>
      <InFull column={chosen.profile} where={null} />
    </Box>
  )
}

const table = (chosen: string, rows: number): TableColumn<FileColumn>[] => [
  {
    key: 'name',
    title: 'Column',
    width: 14,
    mono: true,
    render: ({ profile }) => <span style={{ fontWeight: profile.name === chosen ? 700 : 400 }}>{profile.name}</span>,
  },
  {
    key: 'usable',
    title: 'Usable',
    width: 9,
    right: true,
    mono: true,
    render: ({ profile }) => share(profile.rows - profile.empty, rows),
  },
  {
    key: 'empty',
    title: 'Empty',
    width: 9,
    right: true,
    mono: true,
    render: ({ profile, missing }) => share(Math.max(0, profile.empty - missing), rows),
  },
  { key: 'missing', title: 'Missing', width: 9, right: true, mono: true, render: (one) => share(one.missing, rows) },
  {
    key: 'rejected',
    title: 'Rejected',
    width: 9,
    right: true,
    mono: true,
    render: (one) => share(rejected(one), rows),
  },
  { key: 'distinct', title: 'Different', width: 11, right: true, mono: true, render: ({ profile }) => about(profile) },
  { key: 'smallest', title: 'Smallest', width: 17, mono: true, render: ({ profile }) => profile.smallest ?? '' },
  { key: 'largest', title: 'Largest', width: 17, mono: true, render: ({ profile }) => profile.largest ?? '' },
]
