import { seeded } from '@unvelt/core'

const GREENS = ['#3f6b45', '#557f4e', '#77965a', '#8fa564', '#a9a45a', '#2f5840']
const AUTUMN = ['#b5662a', '#c98b32', '#8c4a24', '#d3a84b', '#9a5b2b', '#6f7a3d']

/** A drawn landscape with trees, as SVG; the seed decides the planting. */
export function treePicture(seed: number, width: number, height: number): string {
  const random = seeded(seed)
  const palette = seed % 3 === 0 ? AUTUMN : GREENS
  const pick = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)]!
  const hills = [0.58, 0.68, 0.8].map((at, i) => {
    const y = height * at
    const fill = ['#c9d3b4', '#a8bb8f', '#7f9c6d'][i]
    return `<path fill="${fill}" d="M0 ${y} Q${width * (0.2 + random() * 0.2)} ${y - height * 0.12} ${width * 0.5} ${y} T${width} ${y - height * 0.03} V${height} H0Z"/>`
  })
  const trees = Array.from({ length: 9 }, (_, i) => ({
    x: width * (0.05 + 0.1 * i + random() * 0.05),
    depth: random(),
  }))
    .sort((a, b) => a.depth - b.depth)
    .map(({ x, depth }) => {
      const foot = height * (0.66 + depth * 0.27)
      const tall = height * (0.16 + depth * 0.3)
      const crown = Array.from({ length: 9 }, () => {
        const dx = (random() - 0.5) * tall * 0.55
        const dy = -tall * (0.5 + random() * 0.5)
        return `<circle cx="${(x + dx).toFixed(1)}" cy="${(foot + dy).toFixed(1)}" r="${(tall * (0.14 + random() * 0.12)).toFixed(1)}" fill="${pick(palette)}" opacity=".92"/>`
      })
      return `<path d="M${x - tall * 0.03} ${foot} L${x - tall * 0.012} ${foot - tall * 0.7} H${x + tall * 0.012} L${x + tall * 0.03} ${foot}Z" fill="#5b432e"/>${crown.join('')}`
    })
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}">` +
    `<defs><linearGradient id="s" x1="0" x2="0" y1="0" y2="1"><stop offset="0" stop-color="#dfe9ea"/><stop offset="1" stop-color="#f4ecd8"/></linearGradient></defs>` +
    `<rect width="${width}" height="${height}" fill="url(#s)"/><circle cx="${width * 0.8}" cy="${height * 0.22}" r="${height * 0.08}" fill="#f3d98b"/>` +
    `${hills.join('')}${trees.join('')}</svg>`
  )
}
