import { plugin } from '../cms/plugin.js'

/** The library that three add-ons need: without it they fail in the console and to the eye. */
export const rootlib = plugin({
  slug: 'rootlib',
  name: 'Rootlib',
  version: '3.6.0',
  author: 'Rootlib authors',
  summary: 'A shared library of page helpers.',
  kind: 'built-in',
  library: true,
  office: ({ page }) => page.path === '/office/orders',
  on: ({ page }) => page.area === 'public' || page.path === '/office/orders',
  script: {
    head: true,
    bulk: 64_000,
    code: `window.rootlib = { version: '3.6.0', each: function (selector, run) { document.querySelectorAll(selector).forEach(run); } };`,
  },
})

/** The same library again, in an old version that one add-on brings along under another name. */
export const rootlibOld = plugin({
  slug: 'table-sorter',
  name: 'Table Sorter',
  version: '1.2.2',
  author: 'Column & Row',
  summary: 'Sorts tables by a press on their heads.',
  files: [],
  script: {
    bulk: 48_000,
    code: `/*! Table Sorter 1.2.2 */
window.rootlib1 = { version: '1.12.4' };
document.querySelectorAll('table.sortable th').forEach(function (head, column) {
  head.style.cursor = 'pointer';
  head.addEventListener('click', function () {
    var body = head.closest('table').tBodies[0];
    Array.from(body.rows).sort(function (a, b) { return a.cells[column].textContent.localeCompare(b.cells[column].textContent, 'en', { numeric: true }); }).forEach(function (row) { body.append(row); });
  });
});`,
  },
})
