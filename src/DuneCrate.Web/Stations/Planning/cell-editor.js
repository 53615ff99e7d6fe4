// The field in a cell: Enter and Tab keep what was typed and move on, Escape gives it up.
export function make(tag, fields) {
  return Object.assign(document.createElement(tag), fields);
}

// carried: the edit of a cell that goes on after the grid was drawn anew, with its draft and what was typed.
export function editCell(grid, first, carried) {
  const [r, c] = grid.at,
    column = grid.model.columns[c];
  if (column.mark.includes('told')) return;
  const td = grid.cell(r, c),
    field = make('input', { className: 'cell-field', value: first ?? grid.model.cells[r][c].text, spellcheck: false });
  field.setAttribute('aria-label', td.getAttribute('aria-label'));
  if (column.options?.length) {
    const list = make('datalist', { id: 'cell-options' });
    list.append(...column.options.map(option => make('option', { value: option })));
    field.setAttribute('list', 'cell-options');
    td.replaceChildren(field, list);
  } else td.replaceChildren(field);
  const editing = {
    field,
    row: grid.model.rows[r].key,
    col: column.key,
    text: carried?.text ?? grid.model.cells[r][c].text,
    draft: carried?.draft ?? grid.acts.begin(),
  };
  grid.editing = editing;
  const end = keep => {
    if (grid.editing !== editing) return;
    grid.editing = null;
    const text = field.value.trim();
    grid.paint(td, grid.model.cells[r][c], r, c);
    if (keep && text !== editing.text) grid.write([{ r, c, text }], editing.draft);
    else grid.acts.drop(editing.draft);
  };
  field.addEventListener('keydown', event => {
    event.stopPropagation();
    if (event.key === 'Enter' || event.key === 'Tab') {
      event.preventDefault();
      end(true);
      grid.move(
        event.key === 'Tab'
          ? [r, Math.min(grid.model.columns.length - 1, c + (event.shiftKey ? -1 : 1))]
          : grid.step(event.shiftKey ? -1 : 1),
        false,
      );
    }
    if (event.key === 'Escape') {
      end(false);
      td.focus();
    }
  });
  field.addEventListener('blur', () => end(true));
  field.focus();
  if (first === undefined) field.select();
  if (carried) field.setSelectionRange(carried.at, carried.at);
}
