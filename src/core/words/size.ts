import { locale } from "./locale"

/** Bytes as people say them: "640 KB", "12.4 MB", "1.25 GB" (SI, powers of ten). */
export function sizeText(bytes: number): string {
  const say = (n: number, digits: number) => n.toLocaleString(locale, { maximumFractionDigits: digits })
  if (bytes < 1e6) return `${say(Math.max(1, Math.round(bytes / 1e3)), 0)} KB`
  return bytes < 1e9 ? `${say(bytes / 1e6, 1)} MB` : `${say(bytes / 1e9, 2)} GB`
}
