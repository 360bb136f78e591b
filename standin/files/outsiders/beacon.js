(function () {
  var here = new URL(document.currentScript.src);
  new Image().src = here.protocol + '//count.heronmark.localhost' + (here.port ? ':' + here.port : '') + '/hit.gif?p=' + encodeURIComponent(location.pathname);
})();
