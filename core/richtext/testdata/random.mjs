// Chances from a seed: the same ones each time.
export function chances(seed) {
  let random = Number(seed)
  function chance() {
    random = (random + 0x6d2b79f5) | 0
    let t = Math.imul(random ^ (random >>> 15), 1 | random)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
  const below = (k) => Math.floor(chance() * k)
  return { chance, below, one: (of) => of[below(of.length)] }
}
