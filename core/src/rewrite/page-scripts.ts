/** What a page's scripts may not insert. Paths and prefixes are of the own host, domains those of outsiders. */
export interface StopList {
  paths: string[]
  prefixes: string[]
  domains: string[]
}

/**
 * A very small script, put first in the page, that refuses what other scripts insert: it looks at an element's address
 * when the element is put into the page, and takes the address away if it is on the list.
 */
export function stopper(list: StopList): string {
  // In a script element neither an end tag nor an opening comment may appear, not even in a text.
  const data = JSON.stringify(list).replace(/</g, '\\u003c')
  return `(function(l){${STOPPER_BODY}})(${data})`
}

const STOPPER_BODY = `
var own=location.host,gone=function(a){if(!a)return false;try{var u=new URL(a,document.baseURI)}catch(e){return false}
if(u.host===own)return l.paths.indexOf(u.pathname)>=0||l.paths.indexOf(u.pathname+u.search)>=0||l.prefixes.some(function(p){return u.pathname.indexOf(p)===0});
return l.paths.indexOf(u.href)>=0||l.prefixes.some(function(p){return u.href.indexOf(p)===0})||l.domains.some(function(d){return u.hostname===d||u.hostname.slice(-d.length-1)==='.'+d})},
look=function(n){if(n&&n.nodeType===1){var t=n.localName,k=t==='link'?'href':t==='script'||t==='iframe'||t==='img'?'src':null;
if(k&&gone(n.getAttribute(k))){n.setAttribute('data-unvelt-refused',n.getAttribute(k));n.removeAttribute(k)}}},
deep=function(n){look(n);if(n&&n.querySelectorAll&&n.firstElementChild)n.querySelectorAll('script,link,iframe,img').forEach(look)};
[[Node.prototype,'appendChild'],[Node.prototype,'insertBefore'],[Node.prototype,'replaceChild'],[Element.prototype,'append'],[Element.prototype,'prepend'],[Element.prototype,'before'],[Element.prototype,'after'],[Element.prototype,'replaceWith']].forEach(function(m){
var f=m[0][m[1]];m[0][m[1]]=function(){for(var i=0;i<arguments.length;i++)deep(arguments[i]);return f.apply(this,arguments)}});
[[HTMLScriptElement,'src'],[HTMLLinkElement,'href'],[HTMLIFrameElement,'src'],[HTMLImageElement,'src']].forEach(function(m){
var p=m[0].prototype,d=Object.getOwnPropertyDescriptor(p,m[1]);Object.defineProperty(p,m[1],{configurable:true,enumerable:true,get:d.get,set:function(v){
if(gone(String(v)))this.setAttribute('data-unvelt-refused',v);else d.set.call(this,v)}})});
var sa=Element.prototype.setAttribute;Element.prototype.setAttribute=function(k,v){var t=this.localName;
if(((k==='src'&&(t==='script'||t==='iframe'||t==='img'))||(k==='href'&&t==='link'))&&gone(String(v)))return sa.call(this,'data-unvelt-refused',v);return sa.call(this,k,v)}
`
  .trim()
  .replace(/\n/g, '')

/**
 * Brings back what was held, in the order in which it stood in the page. Held elements carry `data-unvelt-until`; a
 * script's type or a style's media keeps it from loading until then.
 */
export const HOLDER = `
(function(){var D=document,W='data-unvelt-',queue=Promise.resolve(),
wake=function(n){if(!n.hasAttribute(W+'until'))return;n.removeAttribute(W+'until');var t=n.localName;
if(t==='link'||t==='style'){var m=n.getAttribute(W+'media');if(m)n.setAttribute('media',m);else n.removeAttribute('media');if(n.hasAttribute(W+'href')){n.setAttribute('href',n.getAttribute(W+'href'))}return}
if(t!=='script'){n.setAttribute('src',n.getAttribute(W+'src'));n.hidden=false;return}
queue=queue.then(function(){return new Promise(function(done){var s=D.createElement('script');
for(var i=0;i<n.attributes.length;i++){var a=n.attributes[i];if(a.name.indexOf(W)!==0&&a.name!=='type')s.setAttribute(a.name,a.value)}
if(n.hasAttribute(W+'type'))s.type=n.getAttribute(W+'type');s.async=false;
if(n.hasAttribute(W+'src')){s.onload=s.onerror=function(){done()};s.src=n.getAttribute(W+'src')}else{s.text=n.text;setTimeout(done)}
n.parentNode.replaceChild(s,n)})})},
all=function(u,a){D.querySelectorAll('['+W+'until="'+u+'"]').forEach(function(n){if(!a||n.getAttribute(W+'of')===a)wake(n)})},
idle=window.requestIdleCallback||function(f){setTimeout(f,200)},woken=false,
input=function(){if(woken)return;woken=true;all('input')};
['pointerdown','keydown','touchstart','wheel','scroll'].forEach(function(e){addEventListener(e,input,{once:true,passive:true,capture:true})});
addEventListener('load',function(){idle(function(){all('idle')},{timeout:2000});
var o=new IntersectionObserver(function(es){es.forEach(function(e){if(e.isIntersecting){o.unobserve(e.target);all('seen',e.target.getAttribute(W+'place'))}})});
D.querySelectorAll('['+W+'place]').forEach(function(n){o.observe(n)})});
D.addEventListener('click',function(e){var b=e.target.closest&&e.target.closest('['+W+'ask]');if(b){all('asked',b.getAttribute(W+'ask'));b.remove()}})})()
`
  .trim()
  .replace(/\n/g, '')
