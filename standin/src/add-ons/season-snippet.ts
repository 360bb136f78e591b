import type { AddOn } from '../cms/add-on.js'

/** Code that somebody pasted into the template: it greets by season and asks the weather service for a script. */
export const seasonSnippet: AddOn = {
  manifest: {
    slug: 'season-snippet',
    kind: 'snippet',
    name: 'Season greeting',
    version: '1',
    author: 'pasted into the template',
    summary: 'Puts a line about the season into the foot of the page.',
    features: [],
    needs: [],
    canSkip: true,
  },
  files: [
    {
      path: '/pasted/season-words.js',
      type: 'script',
      body: Buffer.from(
        `window.seasonWords = ['Snow on the limes', 'Sap is rising', 'Full shade', 'Leaves on every path'];\n`,
      ),
    },
  ],
  inlineIds: ['season-greeting'],
  tags: () => [
    {
      where: 'body-end',
      html: `<script id="season-greeting">
(function () {
  var words = document.createElement('script');
  words.src = '/pasted/season-words.js';
  words.onload = function () {
    var line = document.getElementById('season-line');
    if (line) line.textContent = seasonWords[Math.floor(((new Date().getMonth() + 1) % 12) / 3)];
  };
  document.body.appendChild(words);
})();
</script>`,
    },
  ],
}
