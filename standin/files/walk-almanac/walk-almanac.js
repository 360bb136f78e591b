document.querySelectorAll('.almanac tr[data-places]').forEach(function (row) {
  if (Number(row.dataset.places) < 4) row.classList.add('few');
});
