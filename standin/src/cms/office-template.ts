import { escapeHtml } from '../http/answer.js'
import type { PageParts } from './template.js'

/** A page of the back office. Its menu is an add-on's work, as in the public part. */
export function renderOffice({ page, content, afterContent, slots, person, head, end }: PageParts): string {
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${escapeHtml(page.title)} – Loam</title>
<link rel="icon" href="data:,">
${head}
</head>
<body class="office">
<aside><b>Loam</b>${slots['office-menu'] ?? ''}<p>${escapeHtml(person?.name ?? '')} · <a href="/">The site</a> · <a href="/sign-out">Sign out</a></p></aside>
<main><h1>${escapeHtml(page.title)}</h1><p class="lead">${escapeHtml(page.lead)}</p>
${content}
${afterContent}
</main>
${end}
</body>
</html>
`
}
