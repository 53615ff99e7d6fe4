// Tables of rows that are typed: the last row is always a blank one, and a row can be taken out.
const isTyped = row => [...row.querySelectorAll('input')].some(field => field.value.trim());

function addRow(table) {
  const body = table.tBodies[0],
    rows = [...body.rows].filter(row => !('told' in row.dataset)),
    last = rows.at(-1);
  if (!isTyped(last)) return last;
  const blank = last.cloneNode(true);
  for (const field of blank.querySelectorAll('input')) field.value = '';
  body.append(blank);
  return blank;
}

document.addEventListener('click', event => {
  const out = event.target.closest('[data-row-out]'),
    add = event.target.closest('[data-row-add]');
  if (add) addRow(add.closest('section').querySelector('table.rows')).querySelector('input').focus();
  if (!out) return;
  const row = out.closest('tr'),
    table = row.closest('table');
  if (row.nextElementSibling && 'told' in row.nextElementSibling.dataset) row.nextElementSibling.remove();
  for (const field of row.querySelectorAll('input')) field.value = '';
  if (row !== [...table.tBodies[0].rows].filter(r => !('told' in r.dataset)).at(-1)) {
    const next = row.nextElementSibling ?? row.previousElementSibling;
    row.remove();
    next?.querySelector('input')?.focus();
  }
});
