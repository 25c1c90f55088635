import { useEffect, useState } from 'react'

/** What stands in a field, once nobody has typed for a while. */
export function useSettled<T>(value: T, millis: number): T {
  const [settled, setSettled] = useState(value)
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), millis)
    return () => clearTimeout(timer)
  }, [value, millis])
  return settled
}
