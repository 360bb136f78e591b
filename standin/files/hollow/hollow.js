document.querySelector('.menu-button').addEventListener('click', function () {
  var open = document.querySelector('.mast nav').classList.toggle('open');
  this.setAttribute('aria-expanded', String(open));
});
