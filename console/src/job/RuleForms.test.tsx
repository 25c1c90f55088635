import { fireEvent, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, it, vi } from 'vitest'
import { shown } from '../test/shown'
import { firstValue, RuleForm } from './RuleForms'

describe('the form of a rule about names', () => {
  it('tells what is typed, and says which of them are regular expressions', async () => {
    const change = vi.fn()
    shown(<RuleForm of="skip" label="skip" value={['*copy*', { regex: 'x+' }]} onChange={change} />)
    expect(screen.getByLabelText<HTMLInputElement>('skip 2').value).toBe('x+')
    fireEvent.change(screen.getByLabelText('skip 1'), { target: { value: '*.bak' } })
    expect(change).toHaveBeenLastCalledWith(['*.bak', { regex: 'x+' }])
    await userEvent.click(screen.getByLabelText(/skip 1 is a regular expression/))
    expect(change).toHaveBeenLastCalledWith(
      [{ regex: '.bak' }, { regex: 'x+' }].map((one, i) => (i ? one : { regex: '*.bak' })),
    )
  })

  it('does not tell of a rule that names nothing: half a rule is not a rule', () => {
    const change = vi.fn()
    shown(<RuleForm of="take" label="take" value={['a']} onChange={change} />)
    fireEvent.change(screen.getByLabelText('take 1'), { target: { value: '' } })
    expect(change).not.toHaveBeenCalled()
  })

  it('shows what comes from elsewhere, such as an undo, in place of what was typed', () => {
    const { rerender } = shown(<RuleForm of="take" label="take" value={['a']} onChange={() => {}} />)
    fireEvent.change(screen.getByLabelText('take 1'), { target: { value: 'ab' } })
    rerender(<RuleForm of="take" label="take" value={['z']} onChange={() => {}} />)
    expect(screen.getByLabelText<HTMLInputElement>('take 1').value).toBe('z')
  })
})

describe('what a new rule says at first', () => {
  it('takes everything that is there', () => {
    const bounds = { place: 1, files: 7, smallest: 35, largest: 24_310 } as never
    expect(firstValue('size', bounds)).toEqual({ from: '35 B', to: '24.4 kB' })
    expect(firstValue('rank', bounds)).toBe('newest 7')
    expect(firstValue('modified')).toBe('last 7 days')
  })
})
