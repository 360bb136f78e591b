import { plugin } from '../cms/plugin.js'
import { escapeHtml } from '../http/answer.js'

const SEASONS = ['Winter', 'Spring', 'Summer', 'Autumn']
const MOST_FOUND = 20

const THANKS: Record<string, string> = {
  letter: 'Thank you for your letter. Somebody answers within two working days.',
  tickets: 'Your tickets are held for twenty minutes at the gatehouse.',
  order: 'Your seed is being packed. It leaves on Thursday.',
  newsletter: 'The next letter comes with the season.',
  gift: 'Thank you. Your tree is written in the register.',
  comment: 'Your comment stands under the article.',
}

/** Parts of pages that the CMS itself brings: search, archive, letters, gifts and the sign-in form. No files. */
export const siteParts = plugin({
  slug: 'page-parts',
  name: 'Page parts',
  kind: 'built-in',
  version: '6.3.1',
  author: 'Loam',
  summary: 'Search, archive and the small forms of the CMS.',
  tables: ['loam_letters', 'loam_gifts'],
  async setUp(database) {
    await database.query(
      'create table if not exists loam_letters (email text primary key, since timestamptz not null default now())',
    )
    await database.query(
      'create table if not exists loam_gifts (id uuid primary key default gen_random_uuid(), given_at timestamptz not null default now(), amount integer not null)',
    )
  },
  blocks: {
    async search({ address, pages }) {
      const asked = (address.searchParams.get('q') ?? '').trim().slice(0, 100)
      const words = asked.toLowerCase().split(/\s+/).filter(Boolean)
      const found = words.length
        ? pages.filter(
            (p) =>
              p.area === 'public' &&
              !p.roles &&
              words.every((word) => `${p.title} ${p.lead} ${p.body}`.toLowerCase().includes(word)),
          )
        : []
      const list = found
        .slice(0, MOST_FOUND)
        .map((p) => `<li><a href="${p.path}">${escapeHtml(p.title)}</a><br>${escapeHtml(p.lead)}</li>`)
      const said = asked
        ? `<p>${found.length} ${found.length === 1 ? 'page' : 'pages'} for “${escapeHtml(asked)}”.</p><ol class="found">${list.join('')}</ol>`
        : ''
      return `<form class="search" action="/search"><label>Words<input name="q" value="${escapeHtml(asked)}"></label><button>Search</button></form>${said}`
    },
    async archive({ pages }) {
      const bySeason = new Map<string, typeof pages>()
      for (const p of pages.filter((page) => page.kind === 'article')) {
        const [year, month] = (p.modified ?? '2026-01').split('-').map(Number)
        const season = `${SEASONS[Math.floor((month! % 12) / 3)]} ${year}`
        bySeason.set(season, [...(bySeason.get(season) ?? []), p])
      }
      return [...bySeason]
        .map(
          ([season, found]) =>
            `<h2>${season}</h2><ul>${found.map((p) => `<li><a href="${p.path}">${escapeHtml(p.title)}</a></li>`).join('')}</ul>`,
        )
        .join('')
    },
    async 'sign-in'({ address }) {
      const to = escapeHtml(address.searchParams.get('to') ?? '')
      const wrong = address.searchParams.has('wrong') ? '<p role="alert">Name and word do not fit together.</p>' : ''
      return `${wrong}<form class="sign-in" method="post" action="/sign-in"><input type="hidden" name="to" value="${to}"><label>Name<input name="name" autocomplete="username" required></label><label>Word<input name="word" type="password" autocomplete="current-password" required></label><button>Sign in</button></form>`
    },
    thanks: async ({ address }) => `<p>${THANKS[address.searchParams.get('for') ?? ''] ?? 'Thank you.'}</p>`,
    letters: async () =>
      '<form class="letters" method="post" action="/forms/letters"><label>Email<input name="email" type="email" required></label><button>Send me the letters</button></form>',
    gift: async () =>
      '<form class="gift" method="post" action="/forms/gift"><label>Amount<input name="amount" type="number" min="1" max="9999" value="40" required></label><button>Give a tree</button></form>',
  },
  actions: {
    async '/forms/letters'({ form, database, trace }) {
      const email = form.get('email')?.trim() ?? ''
      if (!/^[^@\s]{1,100}@[^@\s]{1,100}$/.test(email)) return { refused: 'Expected an email address.' }
      await database.query('insert into loam_letters (email) values ($1) on conflict do nothing', [email], trace)
      return { to: '/thanks?for=newsletter' }
    },
    async '/forms/gift'({ form, database, trace }) {
      const amount = Number(form.get('amount'))
      if (!Number.isInteger(amount) || amount < 1 || amount > 9999)
        return { refused: 'Expected an amount from 1 to 9999.' }
      await database.query('insert into loam_gifts (amount) values ($1)', [amount], trace)
      return { to: '/thanks?for=gift' }
    },
  },
})
