import type { StopList } from './stop-list.js'
import { stoppedAttributes } from './tag-table.js'

/**
 * A very small script, put first in the page, that refuses what other scripts insert: it looks at an element's address when the
 * address is given to it and when the element is put into the page, also as text, and takes the address away where it is on the
 * list; and it refuses requests that scripts make themselves.
 *
 * Not in its reach, and so never promised (see `reach.ts`): modules by `import`, what a stylesheet names, what a frame or a
 * worker does inside, and what a text of HTML asks for before it is in the page.
 */
export function stopper(list: StopList): string {
  // In a script element neither an end tag nor an opening comment may appear, not even in a text.
  const data = JSON.stringify(list).replace(/</g, '\\u003c')
  return `(function(l){${BODY}})(${data})`
}

/** Canonical forms are those of `attribution/canonical.ts`. The page's own host is the site's, also where a gate lends it one. */
const BODY = `
var W=typeof window==='undefined'?{}:window,G=typeof globalThis==='undefined'?W:globalThis,D=document,has=Object.prototype.hasOwnProperty,R='data-unvelt-refused',
canon=function(p){return p.replace(/%[0-9a-f]{2}/gi,function(e){var c=String.fromCharCode(parseInt(e.slice(1),16));return /[A-Za-z0-9._~-]/.test(c)?c:e.toUpperCase()}).replace(/\\/{2,}/g,'/')},
host=function(h){return h.toLowerCase().replace(/:(?:80|443)$/,'').replace(/\\.(?=:\\d+$|$)/,'')},
said=function(t,k){for(var i=0;i<k.length;i++)if(has.call(t,k[i]))return t[k[i]]},
fits=function(p,u){try{if(p[0]==='+')return new URLPattern(p[1]==='/'?{pathname:p.slice(1)}:p.slice(1)).test(u.href);return new RegExp(p).test(p[1]==='\\\\'?u.pathname:u.protocol+'//'+u.hostname+u.pathname)}catch(e){return false}},
gone=function(v){if(!v)return false;try{var u=new URL(v,D.baseURI)}catch(e){return false}
u.hash='';if(!/^https?:|^wss?:/.test(u.protocol))return false;
var own=l.own.indexOf(host(u.host))>=0||!!W.location&&u.host===W.location.host,path=canon(u.pathname),a=u.protocol+'//'+host(u.host)+path+u.search,
names=own?[path+u.search,path,a]:[a],n=who(u,names,path,a,own);if(!n)return false;
var s=l.says[n-1],f=said(s.files,[a].concat(names));return (f===undefined?s.all:f)===1},
who=function(u,names,path,a,own){var n=said(l.paths,names);if(n!==undefined)return n;
for(var i=0,p;p=l.prefixes[i];i++)if(p[0][0]==='/'?own&&path.indexOf(p[0])===0:a.indexOf(p[0])===0)return p[1];
for(i=0;p=l.patterns[i];i++)if(fits(p[0],u))return p[1];
if(own)return 0;for(i=host(u.hostname);i.indexOf('.')>=0||i;i=i.indexOf('.')<0?'':i.slice(i.indexOf('.')+1))if(has.call(l.domains,i))return l.domains[i];return 0},
refuse=function(n,k,v){set.call(n,R,v)},
attrs=${JSON.stringify(stoppedAttributes())},
any=function(v){return gone(v)||(String(v).indexOf(',')>=0||/\\s/.test(v))&&String(v).split(',').some(function(c){return gone(c.trim().split(/\\s+/)[0])})},
is=function(n,k,v){var t=attrs[n.localName];if(!t||t.indexOf(k)<0)return false;return /srcset$/.test(k)?any(v):gone(v)},
look=function(n){if(!n||n.nodeType!==1)return;(attrs[n.localName]||[]).forEach(function(k){var v=n.getAttribute(k);if(v&&is(n,k,v)){refuse(n,k,v);n.removeAttribute(k)}})},
tags=Object.keys(attrs).join(','),
deep=function(n){look(n);if(n&&n.querySelectorAll&&(n.firstElementChild||n.nodeType===11))n.querySelectorAll(tags).forEach(look)},
wrap=function(o,k,make){if(!o||typeof o[k]!=='function')return;var f=o[k];o[k]=make(f)},
E=Element.prototype,N=Node.prototype,set=E.setAttribute;
[[N,'appendChild'],[N,'insertBefore'],[N,'replaceChild'],[E,'append'],[E,'prepend'],[E,'before'],[E,'after'],[E,'replaceWith'],[E,'replaceChildren'],[E,'insertAdjacentElement']].concat(typeof DocumentFragment==='undefined'?[]:[[DocumentFragment.prototype,'append'],[DocumentFragment.prototype,'prepend'],[DocumentFragment.prototype,'replaceChildren']]).forEach(function(m){
wrap(m[0],m[1],function(f){return function(){for(var i=0;i<arguments.length;i++)deep(arguments[i]);return f.apply(this,arguments)}})});
['Script','Link','IFrame','Frame','Image','Source','Media','Video','Track','Embed','Object','Input'].forEach(function(c){
var C=G['HTML'+c+'Element'];if(!C)return;
['src','href','srcset','poster','data'].forEach(function(k){var d=Object.getOwnPropertyDescriptor(C.prototype,k);if(!d||!d.set)return;
Object.defineProperty(C.prototype,k,{configurable:true,enumerable:true,get:d.get,set:function(v){if(is(this,k,String(v)))refuse(this,k,v);else d.set.call(this,v)}})})});
E.setAttribute=function(k,v){if(is(this,String(k).toLowerCase(),String(v)))return refuse(this,k,v);return set.call(this,k,v)};
wrap(E,'setAttributeNS',function(f){return function(s,k,v){if(is(this,String(k).toLowerCase(),String(v)))return refuse(this,k,v);return f.call(this,s,k,v)}});
if(typeof W.DOMParser==='undefined')return;
var clean=function(h){h=String(h);if(!/<(?:script|link|i?frame|im|source|video|audio|track|embed|object|input|use)/i.test(h))return h;
var t=D.implementation.createHTMLDocument('').createElement('template');html.set.call(t,h);var before=t.innerHTML;deepIn(t.content);return t.innerHTML===before?h:t.innerHTML},
deepIn=function(f){f.querySelectorAll(tags).forEach(look);f.querySelectorAll('template').forEach(function(t){deepIn(t.content)})},
html=Object.getOwnPropertyDescriptor(E,'innerHTML');
[[E,'innerHTML'],[E,'outerHTML'],[ShadowRoot.prototype,'innerHTML']].forEach(function(m){var d=Object.getOwnPropertyDescriptor(m[0],m[1]);if(!d)return;
Object.defineProperty(m[0],m[1],{configurable:true,enumerable:true,get:d.get,set:function(v){d.set.call(this,clean(v))}})});
wrap(E,'insertAdjacentHTML',function(f){return function(w,h){return f.call(this,w,clean(h))}});
[[E,'setHTMLUnsafe'],[ShadowRoot.prototype,'setHTMLUnsafe'],[Range.prototype,'createContextualFragment']].forEach(function(m){wrap(m[0],m[1],function(f){return function(h){arguments[0]=clean(h);return f.apply(this,arguments)}})});
['write','writeln'].forEach(function(k){wrap(Document.prototype,k,function(f){return function(){for(var i=0,a=[];i<arguments.length;i++)a.push(written(String(arguments[i])));return f.apply(this,a)}})});
var written=function(h){return h.replace(/(<(?:script|link|i?frame|img|source|video|audio|track|embed|object|input)\\b[^>]*?\\s)(src|href|data|poster)(\\s*=\\s*)("[^"]*"|'[^']*'|[^\\s>"']+)/gi,function(m,a,k,e,v){
var x=D.createElement('textarea');html.set.call(x,v.replace(/^["']|["']$/g,''));return gone(x.value)?a+R+e+v:m})},
no=function(){return Promise.reject(new TypeError('Failed to fetch'))};
wrap(W,'fetch',function(f){return function(i){var v=i&&typeof i==='object'&&'url'in i?i.url:i;return gone(String(v))?no():f.apply(this,arguments)}});
wrap(W.navigator&&Navigator.prototype,'sendBeacon',function(f){return function(v){return gone(String(v))?false:f.apply(this,arguments)}});
wrap(W.XMLHttpRequest&&XMLHttpRequest.prototype,'open',function(f){return function(m,v){if(gone(String(v)))arguments[1]='data:,';return f.apply(this,arguments)}});
['Worker','SharedWorker','EventSource','WebSocket'].forEach(function(k){var C=W[k];if(!C)return;
W[k]=new Proxy(C,{construct:function(T,a,n){if(gone(String(a[0]))){var e=new EventTarget();['postMessage','terminate','close','send','start'].forEach(function(m){e[m]=function(){}});e.port=e;e.readyState=3;setTimeout(function(){e.dispatchEvent(new Event('error'))});return e}return Reflect.construct(T,a,n)}})});
wrap(W.CSSStyleSheet&&CSSStyleSheet.prototype,'insertRule',function(f){return function(r){var m=/^\\s*@import\\s+(?:url\\(\\s*)?["']?([^"')\\s;]+)/i.exec(r);if(m&&gone(m[1]))arguments[0]='@import "data:,"';return f.apply(this,arguments)}})
`
  .trim()
  .replace(/\n/g, '')
