import { screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { expect, it, vi } from 'vitest'
import { shown } from '../test/shown'
import { Confirm } from './Confirm'

it('does nothing before it was confirmed, and nothing that cannot be done', async () => {
  const act = vi.fn()
  const dialog = (forbidden: boolean) => (
    <Confirm button="Undo" title="Undo run 7" busy={false} error={null} forbidden={forbidden} onDo={act}>
      12 rows go out.
    </Confirm>
  )
  const { rerender } = shown(dialog(true))
  await userEvent.click(screen.getByRole('button', { name: 'Undo …' }))
  expect(screen.getByRole('dialog', { name: 'Undo run 7' }).textContent).toContain('12 rows go out.')
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Undo' }).disabled).toBe(true)
  expect(act).not.toHaveBeenCalled()
  rerender(dialog(false))
  await userEvent.click(screen.getByRole('button', { name: 'Undo' }))
  expect(act).toHaveBeenCalledOnce()
})
