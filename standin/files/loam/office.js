document.querySelectorAll('form.editor').forEach(function (form) {
  var saved = new URLSearchParams(new FormData(form)).toString();
  form.addEventListener('submit', function () { saved = null; });
  window.addEventListener('beforeunload', function (event) {
    if (saved !== null && new URLSearchParams(new FormData(form)).toString() !== saved) event.preventDefault();
  });
});
