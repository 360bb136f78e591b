document.querySelectorAll('form.enquiry').forEach(function (form) {
  form.hidden = false;
  form.addEventListener('submit', function (event) {
    var missing = Array.prototype.filter.call(form.elements, function (field) { return field.required && !field.value.trim(); });
    if (!missing.length) return;
    event.preventDefault();
    form.querySelector('[role=status]').textContent = 'Please fill in: ' + missing.map(function (field) { return field.name; }).join(', ') + '.';
  });
});
