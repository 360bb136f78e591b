import { seeded } from '@unvelt/core'

export const GIVING_YEARS = '/media/giving-years.js'

const FIRST_YEAR = 1901
const LAST_YEAR = 2026
const MONTHS = 'January February March April May June July August September October November December'.split(' ')
const TREES = 'alder ash aspen beech elder hazel hornbeam larch lime oak rowan spruce yew'.split(' ')

/**
 * A script that an editor wrote and uploaded as it was: all its data spelled out, comments and all, and from a folder of which the
 * server packs nothing but drawings.
 */
export const givingYears = Buffer.from(source())

function source(): string {
  const random = seeded(1901)
  const upTo = (most: number) => Math.floor(random() * most)
  const gifts: string[] = []
  for (let year = FIRST_YEAR; year <= LAST_YEAR; year++) {
    gifts.push(`    // ${year}, as written in the gift book`)
    for (const month of MONTHS) {
      const trees = upTo(9)
      gifts.push(
        `    { year: ${year}, month: '${month}', gifts: ${trees + upTo(40)}, shillings: ${upTo(9000)}, treesPlanted: ${trees}, plantedMostly: '${TREES[upTo(TREES.length)]}' },`,
      )
    }
  }
  return `/*
 * What was given, year by year, and how many trees were planted for it.
 * Copied from the gift book by hand; please do not sort.
 */
(function () {
  'use strict';

  var giftBook = [
${gifts.join('\n')}
  ];

  // One bar for ten years.
  function treesByDecade(entries) {
    var decades = {};
    entries.forEach(function (entry) {
      var decade = Math.floor(entry.year / 10) * 10;
      decades[decade] = (decades[decade] || 0) + entry.treesPlanted;
    });
    return decades;
  }

  function drawBars(figure, decades) {
    var names = Object.keys(decades);
    var most = Math.max.apply(null, names.map(function (name) { return decades[name]; }));
    var list = document.createElement('ol');
    list.style.cssText = 'list-style:none;padding:0;margin:0;display:grid;gap:4px';
    names.forEach(function (name) {
      var bar = document.createElement('li');
      bar.textContent = name + 's: ' + decades[name] + ' trees';
      bar.style.cssText = 'padding:2px 6px;background:#d9e4cf;width:' + Math.round(100 * decades[name] / most) + '%';
      list.appendChild(bar);
    });
    figure.appendChild(list);
  }

  var figure = document.querySelector('[data-giving-years]');
  if (figure) {
    drawBars(figure, treesByDecade(giftBook));
  }
})();
`
}
