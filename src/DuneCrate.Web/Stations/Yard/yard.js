// The yard's rows narrowed by words and put in order by a column; both stay when the list is put in anew.
let words = '',
  column = -1,
  down = false;

const value = (row, at) => {
  const cell = row.cells[at];
  return cell.dataset.value === undefined ? cell.textContent.trim().toLowerCase() : Number(cell.dataset.value);
};

function arrange() {
  for (const table of document.querySelectorAll('#yard table')) {
    const rows = [...table.tBodies[0].rows];
    for (const row of rows) row.hidden = !words.split(/\s+/).every(word => row.textContent.toLowerCase().includes(word));
    for (const [at, head] of [...table.tHead.rows[0].cells].entries())
      head.ariaSort = at === column ? (down ? 'descending' : 'ascending') : null;
    if (column < 0) continue;
    rows.sort((a, b) => {
      const [x, y] = [value(a, column), value(b, column)];
      return (x < y ? -1 : x > y ? 1 : 0) * (down ? -1 : 1);
    });
    table.tBodies[0].append(...rows);
  }
}

document.addEventListener('input', event => {
  if (event.target.id !== 'yard-find') return;
  words = event.target.value.trim().toLowerCase();
  arrange();
});
document.addEventListener('click', event => {
  const head = event.target.closest('#yard [data-sort]')?.closest('th');
  if (!head) return;
  down = column === head.cellIndex && !down;
  column = head.cellIndex;
  arrange();
});
document.addEventListener('htmx:afterSwap', arrange);
