var seekField = document.querySelector('.seek input');
if (seekField) seekField.addEventListener('input', function () {
  var list = document.getElementById('seek-terms');
  list.hidden = seekField.value.length < 2;
});
