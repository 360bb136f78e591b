(function () {
  var port = location.port ? ':' + location.port : '';
  function bring(host, path) {
    var s = document.createElement('script');
    s.async = true;
    s.src = 'http://' + host + port + path;
    document.head.appendChild(s);
  }
  window.heronmark = { seen: Date.now(), visit: Math.random().toString(36).slice(2) };
  bring('cdn.heronmark.localhost', '/beacon.js');
  bring('sync.petalgrid.localhost', '/sync.js');
})();
