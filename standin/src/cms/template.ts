import { MENU, PAGES, type SitePage } from '../content/pages.js'
import { escapeHtml } from '../http/answer.js'
import type { Tag } from './add-on.js'

/** The page's HTML out of its parts: tags of the head, content, what add-ons print behind it, tags of the end. */
export function renderPage(page: SitePage, content: string, afterContent: string, tags: Tag[]): string {
  const at = (where: Tag['where']) =>
    tags
      .filter((tag) => tag.where === where)
      .map((tag) => tag.html)
      .join('\n')
  const menu = MENU.map((path) => {
    const target = PAGES.find((p) => p.path === path)
    const name = path === '/' ? 'Home' : (target?.title ?? path)
    return `<a href="${path}"${path === page.path ? ' aria-current="page"' : ''}>${escapeHtml(name)}</a>`
  })
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${escapeHtml(page.title)}${page.path === '/' ? '' : ' – Fernhollow Arboretum'}</title>
<link rel="icon" href="data:,">
${at('head')}
</head>
<body>
<header class="mast"><b>Fernhollow<small>Arboretum</small></b><button class="menu-button" aria-expanded="false">Menu</button><nav>${menu.join('')}</nav></header>
<div class="hero"><img src="/media/tree-${page.picture}.svg" alt="" width="1280" height="300"><div><h1>${escapeHtml(page.title)}</h1><p>${escapeHtml(page.lead)}</p></div></div>
<main>
${content}
${afterContent}
</main>
<footer><span>Fernhollow Arboretum, Hollow Lane</span><span id="season-line"></span></footer>
${at('body-end')}
</body>
</html>
`
}
