// A grid with the keys of a spreadsheet: arrows move, Shift extends, Enter or typing edits, Space toggles, Delete clears, Ctrl+C,
// X and V copy and paste tab-separated text, Ctrl+D and Ctrl+R fill, Ctrl+A takes all. It
// draws what it is given and tells what is to be written.
import { editCell, make } from './cell-editor.js';
import { useClipboard } from './grid-clipboard.js';
import { range } from './range.js';

export class Grid {
  // model: see GridModel; acts: { write(cells, draft), begin(), drop(draft), lost(text), select(cell, cells, quiet),
  // toggle(text, column), typed(letter) }
  constructor(root, acts) {
    Object.assign(this, { root, acts, at: [0, 0], from: [0, 0], hidden: new Set(), editing: null });
    root.addEventListener('keydown', event => this.key(event));
    root.addEventListener('mousedown', event => this.press(event));
    root.addEventListener('mouseover', event => {
      if (event.buttons & 1 && this.pressed) this.extend(this.place(event.target));
    });
    root.addEventListener('dblclick', event => {
      if (this.place(event.target)) this.edit();
    });
    root.addEventListener('focusin', event => {
      const place = this.place(event.target);
      if (place && !this.editing && !(place[0] === this.at[0] && place[1] === this.at[1])) this.move(place, false);
    });
    for (const kind of ['copy', 'cut', 'paste']) root.addEventListener(kind, event => useClipboard(this, event, kind));
    addEventListener('mouseup', () => {
      this.pressed = false;
    });
  }

  show(model) {
    const same =
      this.model &&
      this.model.view === model.view &&
      this.model.rows.length === model.rows.length &&
      this.model.columns.length === model.columns.length &&
      model.rows.every((row, r) => row.key === this.model.rows[r].key) &&
      model.columns.every((column, c) => column.key === this.model.columns[c].key);
    const before = this.model;
    this.model = model;
    if (!same) {
      this.drawAnew(before);
      return;
    }
    model.cells.forEach((line, r) =>
      line.forEach((cell, c) => {
        const old = before.cells[r][c];
        const isTyped = this.editing?.field.isConnected && this.editing.field.parentElement === this.cell(r, c);
        if (!isTyped && (old.shown !== cell.shown || old.mark !== cell.mark || old.title !== cell.title || old.pending))
          this.paint(this.cell(r, c), cell, r, c);
      }),
    );
    this.frame();
  }

  // Rows or columns came or went: the selection and a cell that is being typed keep their place by name.
  drawAnew(before) {
    const editing = this.editing,
      typed = editing && { value: editing.field.value, at: editing.field.selectionStart };
    this.editing = null;
    if (before) {
      const at = this.find(before.rows[this.at[0]]?.key, before.columns[this.at[1]]?.key);
      if (at) this.at = this.from = at;
    }
    this.draw();
    if (!editing) return;
    const at = this.find(editing.row, editing.col);
    if (!at) {
      this.acts.drop(editing.draft);
      this.acts.lost(typed.value);
      return;
    }
    this.move(at, false);
    editCell(this, typed.value, { ...editing, at: typed.at });
  }

  find(row, col) {
    const r = this.model.rows.findIndex(x => x.key === row),
      c = this.model.columns.findIndex(x => x.key === col);
    return r >= 0 && c >= 0 ? [r, c] : null;
  }

  draw() {
    const { model } = this,
      table = document.createElement('table');
    table.className = `sheet ${model.view}`;
    table.setAttribute('role', 'grid');
    table.setAttribute('aria-label', model.corner);
    table.setAttribute('aria-multiselectable', 'true');
    const hasTotals = model.totalHead !== '';
    table.innerHTML = '<thead></thead><tbody></tbody><tfoot></tfoot>';
    this.tds = model.rows.map(() => []);
    let group = null;
    const body = table.tBodies[0];
    model.rows.forEach((row, r) => {
      if (row.group !== group) {
        group = row.group;
        const head = body.insertRow();
        head.className = 'family';
        head.dataset.group = group;
        head.append(make('th', { colSpan: model.columns.length + 1 + (hasTotals ? 1 : 0), scope: 'rowgroup', textContent: group }));
      }
      const line = body.insertRow();
      line.dataset.r = r;
      line.append(make('th', { scope: 'row', title: row.title }));
      model.columns.forEach((column, c) => {
        const td = line.insertCell();
        td.setAttribute('role', 'gridcell');
        td.dataset.r = r;
        td.dataset.c = c;
        this.tds[r][c] = td;
        this.paint(td, model.cells[r][c], r, c);
      });
      if (hasTotals) line.append(make('td', { className: 'total' }));
    });
    this.root.replaceChildren(table);
    this.table = table;
    this.frame();
    this.hide(this.rule ?? (() => false));
    this.move(
      [Math.min(this.at[0], Math.max(0, model.rows.length - 1)), Math.min(this.at[1], Math.max(0, model.columns.length - 1))],
      false,
      true,
    );
  }

  // Heads, totals and feet: few, and they change with every edit.
  frame() {
    const { model, table } = this,
      hasTotals = model.totalHead !== '';
    const head = make('tr', {});
    head.append(make('th', { scope: 'col', textContent: model.corner }));
    for (const column of model.columns) {
      const th = make('th', { scope: 'col', className: column.mark, title: column.title });
      th.dataset.column = column.key;
      th.append(make('span', { textContent: column.label }), make('small', { textContent: column.small }));
      head.append(th);
    }
    if (hasTotals) head.append(make('th', { scope: 'col', className: 'total', textContent: model.totalHead }));
    table.tHead.replaceChildren(head);
    for (const line of table.tBodies[0].rows) {
      if (line.dataset.r === undefined) continue;
      const row = model.rows[line.dataset.r],
        th = line.firstChild,
        label = `${row.label}\u0000${row.small}`;
      if (th.dataset.label !== label) {
        th.dataset.label = label;
        th.replaceChildren(
          make('span', { textContent: row.label }),
          make('span', { className: 'mono dim', textContent: row.small && row.small !== row.label ? ` ${row.small}` : '' }),
        );
      }
      if (hasTotals && line.lastChild.textContent !== row.total) line.lastChild.textContent = row.total;
    }
    table.tFoot.replaceChildren(
      ...model.feet.map(foot => {
        const line = make('tr', { className: 'family' });
        line.append(make('th', { scope: 'row', textContent: foot.label }), ...foot.texts.map(text => make('td', { textContent: text })));
        if (hasTotals) line.append(make('td', { className: 'total', textContent: foot.total }));
        return line;
      }),
    );
  }

  paint(td, cell, r, c) {
    td.className = `cell ${cell.mark}`;
    td.title = cell.title ?? '';
    td.textContent = cell.shown;
    if (cell.mark.includes('swatch')) td.style.setProperty('--swatch', cell.text);
    else td.style.removeProperty('--swatch');
    td.tabIndex = r === this.at[0] && c === this.at[1] ? 0 : -1;
    const state = cell.mark.includes('blocker')
      ? ', to be mended'
      : cell.mark.includes('warning')
        ? ', to be looked at'
        : cell.mark.includes('differs')
          ? ', differs from its base'
          : '';
    td.setAttribute('aria-label', `${this.model.rows[r].key} of ${this.model.columns[c].key}: ${cell.shown || 'empty'}${state}`);
    td.setAttribute('aria-selected', this.has(r, c));
    td.classList.toggle('sel', this.has(r, c));
  }

  cell(r, c) {
    return this.tds[r]?.[c];
  }

  place(target) {
    const td = target.closest?.('td[data-r]');
    return td && td.dataset.c !== undefined ? [Number(td.dataset.r), Number(td.dataset.c)] : null;
  }

  box() {
    const [r1, c1] = this.at,
      [r2, c2] = this.from;
    return [Math.min(r1, r2), Math.min(c1, c2), Math.max(r1, r2), Math.max(c1, c2)];
  }

  has(r, c) {
    const [r1, c1, r2, c2] = this.box();
    return r >= r1 && r <= r2 && c >= c1 && c <= c2 && !this.hidden.has(r);
  }

  rows() {
    const [r1, , r2] = this.box();
    return range(r1, r2).filter(r => !this.hidden.has(r));
  }

  columns() {
    const [, c1, , c2] = this.box();
    return range(c1, c2);
  }

  chosen() {
    return this.rows().flatMap(r =>
      this.columns().map(c => ({ r, c, row: this.model.rows[r].key, col: this.model.columns[c].key, text: this.model.cells[r][c].text })),
    );
  }

  move([r, c], extend, quiet) {
    if (!this.tds || !this.cell(r, c)) return;
    const old = this.chosenTds ?? [];
    const last = this.cell(...this.at);
    this.at = [r, c];
    if (!extend) this.from = [r, c];
    if (last) last.tabIndex = -1;
    const td = this.cell(r, c);
    td.tabIndex = 0;
    this.chosenTds = this.chosen().map(x => this.cell(x.r, x.c));
    for (const other of old)
      if (!this.chosenTds.includes(other)) {
        other.classList.remove('sel');
        other.setAttribute('aria-selected', 'false');
      }
    for (const now of this.chosenTds) {
      now.classList.add('sel');
      now.setAttribute('aria-selected', 'true');
    }
    if (!quiet) {
      td.focus({ preventScroll: true });
      td.scrollIntoView({ block: 'nearest', inline: 'nearest' });
    }
    this.acts.select({ r, c, row: this.model.rows[r].key, col: this.model.columns[c].key }, this.chosen(), quiet);
  }

  extend(place) {
    if (place) this.move(place, true);
  }

  press(event) {
    const place = this.place(event.target);
    if (!place || this.editing || event.button !== 0) return;
    event.preventDefault();
    this.pressed = true;
    this.move(place, event.shiftKey);
  }

  // Hides the rows for which rule(row, r) says so, and groups that become empty.
  hide(rule) {
    this.rule = rule;
    this.hidden = new Set(this.model.rows.flatMap((row, r) => (rule(row, r) ? [r] : [])));
    const shown = new Set(this.model.rows.filter((row, r) => !this.hidden.has(r)).map(row => row.group));
    for (const line of this.table.tBodies[0].rows)
      line.hidden = line.dataset.r === undefined ? !shown.has(line.dataset.group) : this.hidden.has(Number(line.dataset.r));
  }

  step(by, [r, c] = this.at) {
    const last = this.model.rows.length - 1;
    let next = r + by;
    while (next >= 0 && next <= last && this.hidden.has(next)) next += Math.sign(by);
    return next < 0 || next > last ? [r, c] : [next, c];
  }

  key(event) {
    if (this.editing || !this.place(event.target)) return;
    const ctrl = event.ctrlKey || event.metaKey,
      [r, c] = this.at,
      last = this.model.columns.length - 1;
    const moves = {
      ArrowUp: () => this.step(-1),
      ArrowDown: () => this.step(1),
      ArrowLeft: () => [r, Math.max(0, c - 1)],
      ArrowRight: () => [r, Math.min(last, c + 1)],
      Home: () => (ctrl ? this.step(1, [-1, 0]) : [r, 0]),
      End: () => (ctrl ? this.step(-1, [this.model.rows.length, last]) : [r, last]),
      PageUp: () => range(1, 10).reduce(p => this.step(-1, p), this.at),
      PageDown: () => range(1, 10).reduce(p => this.step(1, p), this.at),
    };
    const acts = {
      ' ': () => this.toggle(),
      Enter: () => this.edit(),
      F2: () => this.edit(),
      Delete: () => this.fill(''),
      Backspace: () => this.fill(''),
      Escape: () => this.move(this.at, false),
    };
    const withCtrl = {
      d: () => this.spread(true),
      r: () => this.spread(false),
      a: () => {
        this.from = [0, 0];
        this.move([this.model.rows.length - 1, last], true);
      },
    };
    let act = null;
    if (moves[event.key]) act = () => this.move(moves[event.key](), event.shiftKey);
    else if (ctrl && withCtrl[event.key.toLowerCase()]) act = withCtrl[event.key.toLowerCase()];
    else if (!ctrl && !event.altKey && acts[event.key]) act = acts[event.key];
    else if (!ctrl && !event.altKey && event.key.length === 1 && event.key !== '?' && event.key !== '/') {
      if (this.acts.typed) act = () => this.acts.typed(event.key);
      else act = () => this.edit(event.key);
    }
    if (!act) return;
    event.preventDefault();
    event.stopPropagation();
    act();
  }

  write(cells, draft) {
    const open = cells.filter(x => !this.model.columns[x.c].mark.includes('told') && (draft || x.text !== this.model.cells[x.r][x.c].text));
    if (open.length)
      this.acts.write(
        open.map(x => ({ ...x, row: this.model.rows[x.r].key, col: this.model.columns[x.c].key })),
        draft,
      );
  }

  fill(text) {
    this.write(this.chosen().map(x => ({ ...x, text })));
  }

  toggle() {
    const [r, c] = this.at,
      next = this.acts.toggle(this.model.cells[r][c].text, this.model.columns[c]);
    if (next === null) this.edit();
    else this.fill(next);
  }

  // Fills down, or to the right, from the first row or column of the choice.
  spread(down) {
    const rows = this.rows(),
      columns = this.columns();
    this.write(
      rows.flatMap((r, i) =>
        columns.flatMap((c, k) =>
          (down ? i : k) === 0 ? [] : [{ r, c, text: this.model.cells[down ? rows[0] : r][down ? c : columns[0]].text }],
        ),
      ),
    );
  }

  edit(first) {
    editCell(this, first);
  }

  // Draws what is about to be, before the server has answered.
  expect(cells, shown) {
    for (const { r, c, text } of cells) {
      const cell = { ...this.model.cells[r][c], ...shown(text, this.model.cells[r][c], this.model.rows[r]), text, pending: true };
      this.model.cells[r][c] = cell;
      this.paint(this.cell(r, c), cell, r, c);
    }
  }
}
