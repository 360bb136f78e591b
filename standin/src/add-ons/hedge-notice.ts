import { plugin } from '../cms/plugin.js'

/** Outsiders that nobody is asked about before they have agreed. Those that are not named load all the same, as they do on real sites. */
const HELD = ['tagbasket.localhost', 'heronmark.localhost', 'hallodesk.localhost', 'warmtrail.localhost']
const ANSWER = 'hedge-notice'

const SCRIPT = `(function () {
  var answer = localStorage.getItem('${ANSWER}');
  var notice = document.getElementById('hedge-notice');
  function load() {
    document.querySelectorAll('script[type="text/held"]').forEach(function (held) {
      var script = document.createElement('script');
      if (held.dataset.src) script.src = held.dataset.src; else script.textContent = held.textContent;
      held.replaceWith(script);
    });
  }
  function give(said) {
    localStorage.setItem('${ANSWER}', said);
    notice.remove();
    if (said === 'agreed') load();
  }
  if (answer === 'agreed') load();
  if (answer) return notice.remove();
  notice.hidden = false;
  notice.querySelector('[data-say=agreed]').onclick = function () { give('agreed'); };
  notice.querySelector('[data-say=refused]').onclick = function () { give('refused'); };
})();`

const NOTICE = `<div id="hedge-notice" role="dialog" aria-label="Your privacy" hidden>
<p>We would like to use cookies and to let others count and follow your visit. May we?</p>
<button type="button" data-say="agreed">Yes, accept all</button>
<button type="button" data-say="refused">Only the necessary ones</button>
<a href="/about">What this is about</a>
</div>`

const isHeld = (address: string) => {
  if (!URL.canParse(address)) return false
  const { hostname: host } = new URL(address)
  return HELD.some((held) => host === held || host.endsWith(`.${held}`))
}

/** Asks visitors whether they may be followed, and holds back what does until they have agreed. Nobody has it until it is installed. */
export const hedgeNotice = plugin({
  slug: 'hedge-notice',
  name: 'Hedge Notice',
  version: '2.3.0',
  author: 'Quickset',
  summary: 'Asks for consent, and holds scripts of others back until it is given.',
  offered: true,
  script: { bulk: 6_000, code: SCRIPT },
  style: {
    bulk: 900,
    code: '#hedge-notice{position:fixed;inset:auto 0 0;z-index:50;padding:1rem 2rem;background:#22452f;color:#fff}#hedge-notice[hidden]{display:none}#hedge-notice a{color:inherit;margin-left:1rem}',
  },
  afterContent: async () => NOTICE,
  filter: (html) =>
    html
      .replace(
        /<script\b([^>]*?)\ssrc="([^"]+)"([^>]*)><\/script>/g,
        (tag, before: string, src: string, after: string) =>
          isHeld(src.replaceAll('&amp;', '&'))
            ? `<script type="text/held"${before} data-src="${src}"${after}></script>`
            : tag,
      )
      .replace('<script id="tagbasket-setup">', '<script id="tagbasket-setup" type="text/held">'),
})
