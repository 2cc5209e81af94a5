/** Things by what they have in common, in their order. */
export function grouped<T, K>(things: readonly T[], by: (thing: T) => K): Map<K, T[]> {
  const groups = new Map<K, T[]>()
  for (const t of things) {
    const group = groups.get(by(t))
    if (group) group.push(t)
    else groups.set(by(t), [t])
  }
  return groups
}
