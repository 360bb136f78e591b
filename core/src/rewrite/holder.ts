/**
 * Brings back what was held, in the order in which it stood in the page. Held elements carry `data-unvelt-until`, and their
 * addresses stand in attributes with `data-unvelt-` before their names; a script's type or a style's media keeps inline code from
 * being used until then. One press, or one place in sight, brings back all that one payer has.
 */
export const HOLDER = `
(function(){var D=document,W='data-unvelt-',own=['until','of','place','ask','elsewhere','refused'],queue=Promise.resolve(),
each=function(s,f){D.querySelectorAll(s).forEach(f)},
back=function(n){if(n.hasAttribute('media')&&n.getAttribute('media')==='not all')n.removeAttribute('media');
[].slice.call(n.attributes).forEach(function(a){var k=a.name.indexOf(W)===0?a.name.slice(W.length):'';if(!k||own.indexOf(k)>=0)return;n.removeAttribute(a.name);
if(k==='xlink:href')n.setAttributeNS('http://www.w3.org/1999/xlink',k,a.value);else n.setAttribute(k,a.value)})},
wake=function(n){if(!n.hasAttribute(W+'until'))return;n.removeAttribute(W+'until');
if(n.localName!=='script'){back(n);n.removeAttribute('hidden');if(n.localName==='source'&&n.parentNode&&n.parentNode.load)n.parentNode.load();return}
queue=queue.then(function(){return new Promise(function(done){var s=n.namespaceURI==='http://www.w3.org/2000/svg'?D.createElementNS(n.namespaceURI,'script'):D.createElement('script');
for(var i=0;i<n.attributes.length;i++){var a=n.attributes[i];if(a.name!=='type')s.setAttribute(a.name,a.value)}
s.async=false;s.onload=s.onerror=function(){done()};
var text=!['src','href','xlink:href'].some(function(k){return n.hasAttribute(W+k)});
if(text)s.textContent=n.textContent;back(s);if(text&&s.type!=='module')setTimeout(done);n.parentNode.replaceChild(s,n)})})},
all=function(u,a){each('['+W+'until="'+u+'"]',function(n){if(a===undefined||n.getAttribute(W+'of')===a)wake(n)})},
idle=window.requestIdleCallback||function(f){setTimeout(f,200)},woken=false,
input=function(){if(woken)return;woken=true;all('input')};
['pointerdown','keydown','touchstart','wheel','scroll'].forEach(function(e){addEventListener(e,input,{once:true,passive:true,capture:true})});
addEventListener('load',function(){idle(function(){all('idle');each('['+W+'place]['+W+'elsewhere]',function(n){all('seen',n.getAttribute(W+'place'))})},{timeout:2000});
var o=new IntersectionObserver(function(es){es.forEach(function(e){if(e.isIntersecting){o.unobserve(e.target);all('seen',e.target.getAttribute(W+'place'))}})});
each('['+W+'place]:not(['+W+'elsewhere])',function(n){o.observe(n)})});
D.addEventListener('click',function(e){var b=e.target.closest&&e.target.closest('['+W+'ask]');if(!b)return;var a=b.getAttribute(W+'ask');all('asked',a);
each('['+W+'ask]',function(n){if(n.getAttribute(W+'ask')===a)n.remove()})})})()
`
  .trim()
  .replace(/\n/g, '')
