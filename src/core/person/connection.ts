// A connection as limits count it: an IPv4 address, or the /64 of an IPv6 address, which is what one customer of a provider
// is given at the least (RFC 6177).

export function connectionOf(ip: string): string {
  if (!ip.includes(":")) return ip
  const mapped = /^::ffff:(\d+\.\d+\.\d+\.\d+)$/i.exec(ip)
  if (mapped) return mapped[1]!
  const [head, tail] = ip.toLowerCase().split("%")[0]!.split("::") as [string, string | undefined]
  const before = head ? head.split(":") : []
  const after = tail ? tail.split(":") : []
  const whole =
    tail === undefined
      ? before
      : [...before, ...Array(Math.max(0, 8 - before.length - after.length)).fill("0"), ...after]
  const network = whole.slice(0, 4).map((part) => Number.parseInt(part, 16).toString(16))
  return `${network.join(":")}::/64`
}
