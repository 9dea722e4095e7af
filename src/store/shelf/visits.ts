/**
 * A small thing that the browser keeps from one visit to the next, apart from the designs. Storage may be barred or
 * full: it is then kept as long as the page.
 */
export interface Kept<T> {
  /** What was kept, or null: nothing, or nothing that reads. */
  readonly read: () => T | null;
  /** Keeps it; null forgets. */
  readonly write: (value: T | null) => void;
}

/** `take` gives what was written, or null where that is not what it should be. */
export function keptBetweenVisits<T>(key: string, take: (written: unknown) => T | null): Kept<T> {
  return {
    read: () => {
      try {
        const text = localStorage.getItem(key);
        return text === null ? null : take(JSON.parse(text));
      } catch {
        return null;
      }
    },
    write: (value) => {
      try {
        if (value === null) localStorage.removeItem(key);
        else localStorage.setItem(key, JSON.stringify(value));
      } catch {
        // Kept as long as the page.
      }
    },
  };
}
