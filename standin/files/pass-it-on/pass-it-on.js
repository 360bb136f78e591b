document.querySelectorAll('.pass-it-on button').forEach(function (button) {
  button.addEventListener('click', function () {
    button.closest('.pass-it-on').querySelector('output').textContent = 'Address copied.';
  });
});
