import { plugin } from '../cms/plugin.js'
import { PAGES } from '../content/pages.js'
import { escapeHtml } from '../http/answer.js'

/** The seed shop: a basket kept in the browser, and its script on every page for the number in it. */
export const seedShop = plugin({
  slug: 'seed-shop',
  name: 'Seed Shop',
  version: '4.1.0',
  author: 'Market Stall Software',
  summary: 'Products, basket and checkout.',
  needs: ['rootlib'],
  script: {
    bulk: 93_000,
    code: `(function () {
  var read = function () { try { return JSON.parse(localStorage.basket || '{}') } catch (e) { return {} } };
  var show = function () { var basket = read(), names = Object.keys(basket);
    rootlib.each('.basket', function (box) { box.textContent = names.length ? names.map(function (n) { return n + ': ' + basket[n]; }).join(', ') : 'The basket is empty.'; }); };
  rootlib.each('.buy', function (button) { button.hidden = false; button.addEventListener('click', function () { var basket = read(); basket[button.dataset.seed] = (basket[button.dataset.seed] || 0) + 1; localStorage.basket = JSON.stringify(basket); button.textContent = 'In the basket: ' + basket[button.dataset.seed]; }); });
  show();
})();`,
  },
  style: {
    bulk: 18_000,
    code: '.shelf{display:grid;grid-template-columns:repeat(3,1fr);gap:1rem}.buy{padding:.5rem 1rem}',
  },
  blocks: {
    shelf: async () =>
      `<div class="shelf">${PAGES.filter((p) => p.kind === 'product')
        .map(
          (p) =>
            `<a href="${p.path}"><img src="/media/tree-${p.picture}.svg" alt="" width="280" height="92"><br>${escapeHtml(p.title)}</a>`,
        )
        .join('')}</div>`,
    basket: async () => '<p class="basket">The basket needs its script.</p>',
    buy: async (_, { seed = '' }) =>
      `<button class="buy" data-seed="${escapeHtml(seed)}" hidden>Put in the basket</button>`,
  },
})
