import sans from '../fonts/source-sans-3.woff2?inline'
import serif from '../fonts/source-serif-4-400.woff2?inline'
import serifOfHeads from '../fonts/source-serif-4-600.woff2?inline'

/** All that a paper needs to look the same anywhere, with its typefaces. */
export const PAPER_STYLE = `
@font-face { font-family: 'Paper Sans'; font-weight: 200 900; src: url('${sans}') format('woff2') }
@font-face { font-family: 'Paper Serif'; font-weight: 400; src: url('${serif}') format('woff2') }
@font-face { font-family: 'Paper Serif'; font-weight: 600; src: url('${serifOfHeads}') format('woff2') }
@page { size: A4; margin: 18mm 16mm }
* { box-sizing: border-box }
html { color-scheme: light }
body { margin: 0; background: #fff; color: #1d2433; font: 15px/1.5 'Paper Sans', system-ui, sans-serif }
main { max-width: 820px; margin: 0 auto; padding: 40px 32px }
header { display: flex; justify-content: space-between; align-items: flex-start; gap: 32px; border-bottom: 1px solid #ddd6c8; padding-bottom: 14px; margin-bottom: 26px }
header p { margin: 0; text-align: right; color: #5a6275 }
header img { max-height: 46px; max-width: 220px; display: block }
header p.from { text-align: left; color: #1d2433; font-weight: 600 }
h1 { font: 600 26px/1.25 'Paper Serif', Georgia, serif; margin: 0 0 4px; overflow-wrap: anywhere }
h2 { font: 600 18px/1.3 'Paper Serif', Georgia, serif; margin: 28px 0 8px; break-after: avoid }
p { margin: 0 0 8px }
.soft { color: #5a6275 }
.gain { font: 18px/1.55 'Paper Serif', Georgia, serif }
ul { margin: 0; padding-left: 18px }
a { color: #0f6e6a; overflow-wrap: anywhere }
table { width: 100%; border-collapse: collapse; font-size: 13.5px; font-variant-numeric: tabular-nums; margin: 0 0 22px }
caption { text-align: left; padding-bottom: 4px; font-size: 15px; break-after: avoid }
tr { break-inside: avoid }
th, td { text-align: right; font-weight: 400; padding: 3px 0 3px 14px; border-bottom: 1px solid #ece7da; white-space: nowrap }
thead th { color: #5a6275; font-size: 12.5px }
th:first-child { text-align: left; padding-left: 0 }
td.word, th:last-child { text-align: left; white-space: normal; min-width: 110px }
tr.better td:nth-child(4), tr.better td.word { color: #0f6e6a; font-weight: 600 }
tr.worse td:nth-child(4), tr.worse td.word { color: #7a2e5d; font-weight: 600 }
.method { font-size: 13.5px; color: #3a4152 }
@media print { main { padding: 0; max-width: none } }
@media (max-width: 640px) { main { padding: 20px 14px } table { display: block; overflow-x: auto } }
`
