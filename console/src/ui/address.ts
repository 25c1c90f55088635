import { useCallback } from 'react'
import { useSearchParams } from 'react-router'

/**
 * What the address says behind its question mark: which row is open, which files are shown. Changing one name leaves
 * the others as they are, and adds nothing to the browser's history. Several names that change at once are changed by
 * one call: each call begins with the address as it was drawn.
 */
export function useAddress() {
  const [search, setSearch] = useSearchParams()
  const setAll = useCallback(
    (values: Record<string, string | string[] | undefined>) =>
      setSearch(
        (before) => {
          const next = new URLSearchParams(before)
          for (const [name, value] of Object.entries(values)) {
            next.delete(name)
            for (const one of Array.isArray(value) ? value : [value]) if (one) next.append(name, one)
          }
          return next
        },
        { replace: true },
      ),
    [setSearch],
  )
  const set = useCallback((name: string, value: string | string[] | undefined) => setAll({ [name]: value }), [setAll])
  return {
    get: (name: string): string | undefined => search.get(name) ?? undefined,
    all: (name: string): string[] => search.getAll(name),
    set,
    setAll,
  }
}
