// Copies, cuts and pastes what is chosen in a grid as tab-separated text; one value that is pasted fills the choice.
import { range } from './range.js';

export function useClipboard(grid, event, kind) {
  if (grid.editing || !grid.place(document.activeElement)) return;
  event.preventDefault();
  if (kind === 'paste') {
    const lines = event.clipboardData
      .getData('text/plain')
      .replace(/\r/g, '')
      .replace(/\n$/, '')
      .split('\n')
      .map(line => line.split('\t'));
    const rows = range(0, grid.model.rows.length - 1).filter(r => !grid.hidden.has(r) && r >= grid.box()[0]),
      first = grid.box()[1];
    const one = lines.length === 1 && lines[0].length === 1;
    if (one) {
      grid.fill(lines[0][0].trim());
      return;
    }
    grid.write(
      lines.flatMap((line, i) =>
        line.flatMap((text, k) =>
          rows[i] !== undefined && first + k < grid.model.columns.length ? [{ r: rows[i], c: first + k, text: text.trim() }] : [],
        ),
      ),
    );
    return;
  }
  event.clipboardData.setData(
    'text/plain',
    grid
      .rows()
      .map(r =>
        grid
          .columns()
          .map(c => grid.model.cells[r][c].text)
          .join('\t'),
      )
      .join('\n'),
  );
  if (kind === 'cut') grid.fill('');
}
