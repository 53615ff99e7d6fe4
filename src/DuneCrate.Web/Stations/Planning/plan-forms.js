// Forms of the Plan station whose one field completes the change they carry.
document.addEventListener('submit', event => {
  const field = event.target.querySelector('[data-fills]');
  if (field) event.target.elements.edit.value = field.dataset.fills.replace('"*"', JSON.stringify(field.value.trim()));
});
