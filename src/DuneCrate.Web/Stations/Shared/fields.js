// Says at a field that its text is as long as it may be; the browser takes no more.
document.addEventListener('input', event => {
  const field = event.target,
    told = field.parentElement?.querySelector(':scope > [data-limit]');
  if (!(field.maxLength > 0)) return;
  if (field.value.length < field.maxLength) {
    told?.remove();
    return;
  }
  const words = told ?? Object.assign(document.createElement('span'), { className: 'wrong' });
  words.dataset.limit = '';
  words.setAttribute('role', 'status');
  words.textContent = `${field.maxLength.toLocaleString('en')} characters at most.`;
  if (!told) field.after(words);
});
