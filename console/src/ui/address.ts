import { useCallback } from 'react'
import { useSearchParams } from 'react-router'

/**
 * What the address says behind its question mark: which row is open, which files are shown. Changing one name leaves
 * the others as they are, and adds nothing to the browser's history.
 */
export function useAddress() {
  const [search, setSearch] = useSearchParams()
  const set = useCallback(
    (name: string, value: string | string[] | undefined) =>
      setSearch(
        (before) => {
          const next = new URLSearchParams(before)
          next.delete(name)
          for (const one of Array.isArray(value) ? value : [value]) if (one) next.append(name, one)
          return next
        },
        { replace: true },
      ),
    [setSearch],
  )
  return {
    get: (name: string): string | undefined => search.get(name) ?? undefined,
    all: (name: string): string[] => search.getAll(name),
    set,
  }
}
