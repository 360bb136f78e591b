import { plugin } from '../cms/plugin.js'
import type { PageContext } from '../cms/page-context.js'
import { escapeHtml } from '../http/answer.js'

interface Line {
  seed: string
  packets: number
}

const MOST_PACKETS = 99

/** The seed shop: its script is on every page, for the number beside the menu. */
export const seedShop = plugin({
  slug: 'seed-shop',
  name: 'Seed Shop',
  version: '4.1.0',
  author: 'Market Stall Software',
  summary: 'Products, basket and checkout.',
  needs: ['rootlib'],
  tables: ['stall_basket', 'stall_orders'],
  office: ({ page }) => page.path === '/office/orders',
  on: ({ page }) => page.area === 'public' || page.path === '/office/orders',
  script: {
    bulk: 93_000,
    code: `(function () {
  var link = function (n) { rootlib.each('.basket-link', function (a) { a.textContent = 'Basket' + (n ? ' (' + n + ')' : ''); }); };
  var count = Number(sessionStorage.getItem('packets') || 0);
  link(count);
  rootlib.each('.buy', function (form) {
    form.hidden = false;
    form.addEventListener('submit', function (event) {
      event.preventDefault();
      fetch(form.action, { method: 'POST', body: new URLSearchParams(new FormData(form)) }).then(function () {
        count += 1; sessionStorage.setItem('packets', count); link(count);
        form.querySelector('output').textContent = 'It is in your basket.';
      });
    });
  });
})();`,
  },
  style: {
    bulk: 18_000,
    code: '.shelf{display:grid;grid-template-columns:repeat(3,1fr);gap:1.25rem}.shelf a{text-decoration:none;background:#fff;padding:.5rem .5rem .75rem;border:1px solid #e4decf}.shelf img{width:100%;height:auto;display:block;margin-bottom:.5rem}.buy{display:flex;gap:1rem;align-items:center}.buy[hidden]{display:none}.basket-link{color:#f2efe2;white-space:nowrap}.basket td:last-child,.basket th:last-child{text-align:right}@media(max-width:720px){.shelf{grid-template-columns:1fr 1fr}}',
  },
  async setUp(database) {
    await database.query(
      'create table if not exists stall_basket (basket text not null, seed text not null, packets integer not null, primary key (basket, seed))',
    )
    await database.query(
      `create table if not exists stall_orders (id uuid primary key default gen_random_uuid(), ordered_at timestamptz not null default now(),
       name text not null, street text not null, lines jsonb not null, packed boolean not null default false)`,
    )
    await database.query(
      `insert into stall_orders (id, ordered_at, name, street, lines, packed)
       select md5('order ' || g)::uuid, now() - make_interval(days => g), 'Customer ' || g, g || ' Weir Street',
       jsonb_build_array(jsonb_build_object('seed', (array['foxglove','meadow-mix','alder-cones'])[1 + g % 3], 'packets', 1 + g % 4)), g > 6
       from generate_series(1, 40) g on conflict do nothing`,
    )
  },
  slots: { mast: async () => '<a class="basket-link" href="/shop/basket">Basket</a>' },
  blocks: {
    shelf: async ({ pages }) =>
      `<div class="shelf">${pages
        .filter((p) => p.kind === 'product')
        .map(
          (p) =>
            `<a href="${p.path}"><img src="/media/tree-${p.picture}.svg" alt="" width="280" height="92">${escapeHtml(p.title)}</a>`,
        )
        .join('')}</div>`,
    basket: async (page) => {
      const lines = await linesOf(page)
      if (lines.length === 0) return '<p class="basket">The basket is empty. <a href="/shop">To the seed shop</a></p>'
      const rows = lines.map(
        ({ seed, packets }) => `<tr><td>${escapeHtml(titleOf(page, seed))}</td><td>${packets}</td></tr>`,
      )
      return `<table class="basket"><thead><tr><th>Seed</th><th>Packets</th></tr></thead><tbody>${rows.join('')}</tbody></table>${page.page.path === '/shop/basket' ? '<p><a href="/shop/checkout">To the checkout</a></p>' : ''}`
    },
    checkout: async (page) =>
      (await linesOf(page)).length === 0
        ? ''
        : '<form class="checkout" method="post" action="/forms/order"><label>Name<input name="name" required></label><label>Street and town<input name="street" required></label><button>Order</button></form>',
    buy: async (_, { seed = '' }) =>
      `<form class="buy" method="post" action="/forms/basket" hidden><input type="hidden" name="seed" value="${escapeHtml(seed)}"><button>Put in the basket</button><output></output></form>`,
    orders: async ({ database, trace }) => {
      const orders = await database.query<{ ordered_at: Date; name: string; lines: Line[]; packed: boolean }>(
        'select ordered_at, name, lines, packed from stall_orders order by ordered_at desc limit 25',
        [],
        trace,
      )
      const rows = orders.map(
        ({ ordered_at, name, lines, packed }) =>
          `<tr><td>${ordered_at.toISOString().slice(0, 10)}</td><td>${escapeHtml(name)}</td><td>${lines.map((l) => `${l.packets} × ${escapeHtml(l.seed)}`).join(', ')}</td><td>${packed ? 'packed' : 'to be packed'}</td></tr>`,
      )
      return `<table><thead><tr><th>Day</th><th>For</th><th>Seed</th><th>State</th></tr></thead><tbody>${rows.join('')}</tbody></table>`
    },
  },
  actions: {
    async '/forms/basket'({ form, basket, database, trace, page }) {
      const seed = form.get('seed') ?? ''
      if (page(`/shop/${seed}`)?.kind !== 'product') return { refused: 'There is no such seed.' }
      await database.query(
        `insert into stall_basket values ($1, $2, 1) on conflict (basket, seed)
         do update set packets = least(stall_basket.packets + 1, ${MOST_PACKETS})`,
        [basket, seed],
        trace,
      )
      return { to: '/shop/basket' }
    },
    async '/forms/order'({ form, basket, database, trace }) {
      const [name, street] = ['name', 'street'].map((key) => form.get(key)?.trim() ?? '')
      if (!name || !street) return { refused: 'Expected a name and a street.' }
      const ordered = await database.query(
        `with taken as (delete from stall_basket where basket = $1 returning seed, packets)
         insert into stall_orders (name, street, lines)
         select $2, $3, jsonb_agg(jsonb_build_object('seed', seed, 'packets', packets)) from taken having count(*) > 0 returning id`,
        [basket, name, street],
        trace,
      )
      return ordered.length > 0 ? { to: '/thanks?for=order' } : { refused: 'The basket is empty.' }
    },
  },
})

const linesOf = ({ basket, database, trace }: PageContext) =>
  database.query<Line & Record<string, unknown>>(
    'select seed, packets from stall_basket where basket = $1 order by seed',
    [basket],
    trace,
  )

const titleOf = ({ pages }: PageContext, seed: string) => pages.find((p) => p.path === `/shop/${seed}`)?.title ?? seed
