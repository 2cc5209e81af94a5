// Time zones as they are typed.

/** The zone itself where this machine knows it, otherwise the fallback. */
export function knownZone(typed: string, fallback: string): string {
  if (!/^[A-Za-z][A-Za-z0-9_+/-]{0,63}$/.test(typed)) return fallback
  try {
    return new Intl.DateTimeFormat("en", { timeZone: typed }).resolvedOptions().timeZone
  } catch {
    return fallback
  }
}
