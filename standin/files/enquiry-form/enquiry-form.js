document.querySelectorAll('form.enquiry').forEach(function (form) {
  form.hidden = false;
  form.addEventListener('submit', function (event) {
    event.preventDefault();
    var missing = Array.prototype.filter.call(form.elements, function (field) { return field.required && !field.value.trim(); });
    form.querySelector('[role=status]').textContent = missing.length
      ? 'Please fill in: ' + missing.map(function (field) { return field.name; }).join(', ') + '.'
      : 'Thank you. Somebody answers within two working days.';
  });
});
