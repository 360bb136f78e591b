import { MENU, PAGES } from '../content/pages.js'
import type { SitePage } from '../content/site-page.js'
import { escapeHtml } from '../http/answer.js'
import type { Slot, Tag } from './add-on.js'
import { renderOffice } from './office-template.js'
import type { Person } from './people.js'

type Slots = Partial<Record<Slot, string>>

/** The page's HTML out of its parts: tags of the head, content, what add-ons print behind it, tags of the end. */
export function renderPage(
  page: SitePage,
  content: string,
  afterContent: string,
  tags: Tag[],
  slots: Slots = {},
  person: Person | null = null,
): string {
  const at = (where: Tag['where']) =>
    tags
      .filter((tag) => tag.where === where)
      .map((tag) => tag.html)
      .join('\n')
  const parts = { page, content, afterContent, slots, person, head: at('head'), end: at('body-end') }
  return page.area === 'office' ? renderOffice(parts) : renderPublic(parts)
}

export interface PageParts {
  page: SitePage
  content: string
  afterContent: string
  slots: Slots
  person: Person | null
  head: string
  end: string
}

const heroPicture = ({ photograph, picture }: SitePage): string =>
  photograph === undefined
    ? `<img src="/media/tree-${picture}.svg" alt="" width="1280" height="300">`
    : `<img src="${photograph}" alt="" width="1280" height="300" loading="lazy">`

function renderPublic({ page, content, afterContent, slots, person, head, end }: PageParts): string {
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
${page.unlisted ? '<meta name="robots" content="noindex">\n' : ''}${head}
</head>
<body>
<header class="mast"><b>Fernhollow<small>Arboretum</small></b><button class="menu-button" aria-expanded="false">Menu</button><nav>${menu.join('')}</nav>${slots.mast ?? ''}${slots.menu ?? ''}</header>
<div class="hero">${heroPicture(page)}<div><h1>${escapeHtml(page.title)}</h1><p>${escapeHtml(page.lead)}</p></div></div>
<main>
${content}
${afterContent}
</main>
<footer><div><b>Fernhollow Arboretum</b><br>Hollow Lane, by the river. Open every day but the last Monday of January.</div>
<nav aria-label="Foot"><a href="/accessibility">Accessibility</a><a href="/newsletter">Newsletter</a><a href="/donate">Donate</a><a href="/archive">Archive</a><a href="/privacy">Privacy</a>${person ? '<a href="/members">Members’ area</a><a href="/sign-out">Sign out</a>' : '<a href="/sign-in">Sign in</a>'}</nav><span id="season-line"></span></footer>
${end}
</body>
</html>
`
}
