rootlib.each('.canopy', function (box) {
  var slides = box.querySelectorAll('figure'), at = 0;
  function show(n) {
    at = (n + slides.length) % slides.length;
    slides.forEach(function (slide, i) { slide.hidden = i !== at; });
    box.querySelector('output').textContent = at + 1 + ' of ' + slides.length;
  }
  box.querySelector('.prev').addEventListener('click', function () { show(at - 1); });
  box.querySelector('.next').addEventListener('click', function () { show(at + 1); });
  box.classList.add('ready');
  show(0);
});
