// The Plan station: grids that send changes, forms and buttons that carry them, undo, and what others do meanwhile.
import { Grid } from './grid.js';
import { cellText, edits, expects, toggles } from './plan-edits.js';

const page = document.getElementById('plan'),
  shot = document.querySelector('.shot'),
  base = shot.dataset.shot;
const says = document.getElementById('plan-says'),
  side = document.getElementById('plan-side'),
  view = page.dataset.view;
const token = JSON.parse(document.body.getAttribute('hx-headers'))['X-Form-Token'];
const undo = document.getElementById('undo'),
  redo = document.getElementById('redo');
let revision = 0,
  waiting = Promise.resolve(),
  sideTimer = 0,
  frameTimer = 0,
  addressTimer = 0,
  sideAsked = 0,
  cell = null,
  chosen = [],
  sideDraft = null;

// What is being typed or waits to be sent, each on the version that its maker saw: what others change meanwhile is never written over.
const drafts = new Set();

function begin() {
  const draft = { revision };
  drafts.add(draft);
  return draft;
}

const grid = new Grid(document.getElementById('grid'), {
  begin,
  drop: draft => drafts.delete(draft),
  lost: text => say(`The cell you were typing into is gone from the plan. You had typed: ${text}`, true),
  write: (cells, draft) => {
    const edit = edits[view](cells);
    grid.expect(cells, expects[view] ?? (text => ({ shown: text })));
    send(edit, draft);
  },
  select: (at, cells, quiet) => {
    cell = at;
    chosen = cells;
    const many = document.getElementById('c-many');
    if (many) many.textContent = cells.length > 1 ? `${cells.length} cells` : '';
    if (quiet) return;
    clearTimeout(addressTimer);
    // Until it has followed, what stands beside the grid is about another cell and takes no input.
    side.inert = true;
    addressTimer = setTimeout(address, 120);
  },
  toggle: (text, column) => toggles[view](text, column),
  typed:
    view === 'sheet'
      ? letter => {
          const find = document.getElementById('grid-find');
          find.value = letter;
          find.focus();
          seek();
        }
      : null,
});

// The address follows the selection once it rests; what stands beside the grid follows the address.
function address() {
  clearTimeout(addressTimer);
  const url = new URL(location.href);
  if (view === 'sheet') {
    url.searchParams.set('layer', cell.col);
    url.searchParams.set('pass', cell.row);
  } else if (view === 'roles' || view === 'settings') url.searchParams.set('layer', cell.col);
  else if (view === 'files') url.searchParams.set('layer', cell.row.split('|')[0]);
  if (url.href === location.href) {
    side.inert = false;
    return;
  }
  history.replaceState(null, '', url);
  refreshSide(60);
}

function show(model, isOwn) {
  if (isOwn && model.revision === revision + 1)
    for (const draft of drafts) if (draft.revision === revision) draft.revision = model.revision;
  revision = model.revision;
  grid.show(model);
  document.getElementById('grid-summary').textContent = model.summary;
  for (const [button, what] of [
    [undo, model.undo],
    [redo, model.redo],
  ]) {
    button.disabled = !what;
    button.title = what ? `${button === undo ? 'Take back' : 'Make again'}: ${what}` : '';
  }
}

// Changes go one after the other, each on the revision that the one before it made.
async function send(edit, draft) {
  const result = await post('edit', () => ({ revision: draft?.revision ?? revision, view, edit }));
  drafts.delete(draft);
  if (result.isClash) {
    const again = Object.assign(document.createElement('button'), { type: 'button', textContent: 'Write mine all the same' });
    again.addEventListener('click', () => send(edit));
    says.firstElementChild?.append(' ', again);
  }
  return result;
}

function post(path, body) {
  if (document.querySelector('.seen-only')) {
    const problem = 'You may look at this plan; lighters and wranglers of the show change it. Nothing was changed.';
    say(problem, true);
    return Promise.resolve({ problem });
  }
  const done = waiting.then(async () => {
    const answer = await fetch(`${base}/plan/${path}${path === 'edit' ? '' : `?view=${view}`}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', 'X-Form-Token': token },
      body: JSON.stringify(body()),
    }).catch(() => null);
    if (!answer) {
      say('The server does not answer. What you see may not be saved; reload the page once it is back.', true);
      return { problem: 'no answer' };
    }
    const result = await answer.json();
    if (result.model) show(result.model, true);
    if (answer.ok) say('');
    else say(result.problem, true);
    if (answer.ok || answer.status === 409) refreshSide(100);
    refreshFrame();
    return answer.ok ? result : { problem: result.problem, field: result.field, isClash: answer.status === 409 };
  });
  waiting = done.catch(() => {});
  return done;
}

function say(text, bad) {
  const line = Object.assign(document.createElement('p'), { className: `says ${bad ? 'bad' : ''}`, textContent: text });
  if (bad) line.setAttribute('role', 'alert');
  says.replaceChildren(...(text ? [line] : []));
}

function refreshSide(after) {
  clearTimeout(sideTimer);
  sideTimer = setTimeout(async () => {
    if (side.contains(document.activeElement) && document.activeElement.matches('input, select, textarea') && after > 110) return;
    const url = new URL(location.href),
      asked = ++sideAsked;
    url.searchParams.set('handler', 'Side');
    const answer = await fetch(url);
    if (asked !== sideAsked) return;
    side.inert = false;
    if (!answer.ok) return;
    drafts.delete(sideDraft);
    sideDraft = null;
    side.innerHTML = await answer.text();
    window.htmx.process(side);
    dressSide();
  }, after);
}

// The strip, the ladder and the dialogs name layers and counts; they follow once edits pause.
function refreshFrame() {
  clearTimeout(frameTimer);
  frameTimer = setTimeout(async () => {
    const answer = await fetch(location.href);
    if (!answer.ok) return;
    const fresh = new DOMParser().parseFromString(await answer.text(), 'text/html');
    for (const id of ['strip', 'ladder']) document.getElementById(id)?.replaceWith(fresh.getElementById(id));
    for (const dialog of fresh.querySelectorAll('dialog')) {
      const old = document.getElementById(dialog.id);
      if (old && !old.open && dialog.id !== 'keys') old.replaceWith(dialog);
    }
  }, 900);
}

function dressSide() {
  const tab = sessionStorage.getItem('plan-tab') ?? 'cell';
  const tabs = [...side.querySelectorAll('[data-tab]')];
  const open = tabs.some(t => t.dataset.tab === tab) ? tab : tabs[0]?.dataset.tab;
  for (const t of tabs) {
    t.setAttribute('aria-selected', t.dataset.tab === open);
    t.tabIndex = t.dataset.tab === open ? 0 : -1;
  }
  for (const panel of side.querySelectorAll('[data-panel]')) panel.hidden = panel.dataset.panel !== open;
  const many = side.querySelector('#c-many'),
    name = side.querySelector('[data-name-form] input');
  if (many) many.textContent = chosen.length > 1 ? `${chosen.length} cells` : '';
  if (name) name.value = decodeURIComponent(document.cookie.match(/(?:^|; )dune-name=([^;]*)/)?.[1] ?? '');
}

async function submit(form) {
  if (form.dataset.isSending !== undefined) return;
  const draft = side.contains(form) ? sideDraft : null,
    wrong = form.querySelector('[data-wrong]');
  let edit = null;
  if (form.matches('[data-cell-form]')) {
    address();
    const text = cellText(form),
      cells = chosen.length > 1 ? chosen : [{ row: page.dataset.pass, col: page.dataset.layer, ...cell }];
    edit = edits.sheet(cells.map(x => ({ row: x.row, col: x.col, text })));
  } else if (form.matches('[data-pass-form]')) {
    edit = { do: 'cells', cells: [{ layer: currentLayer(), pass: form.pass.value.trim(), text: 'x' }] };
  } else if (form.matches('[data-item-form]')) {
    const of = new FormData(form);
    edit = { do: 'put-items', items: [{ name: of.get('name').trim(), kind: of.get('kind'), traits: of.getAll('traits') }] };
  } else if (form.matches('[data-change-form]')) {
    const of = new FormData(form),
      items = of
        .get('items')
        .split(',')
        .map(x => x.trim())
        .filter(Boolean);
    edit = {
      do: 'changes',
      layer: form.dataset.layer,
      changes: [
        ...JSON.parse(form.dataset.changes),
        { what: of.get('what').trim(), value: of.get('value').trim(), items, why: of.get('why').trim() },
      ],
    };
  } else if (form.matches('[data-name-form]')) {
    document.cookie = `dune-name=${encodeURIComponent(form.by.value.trim())}; path=/; max-age=34560000; samesite=strict`;
    say(form.by.value.trim() ? `Your changes are signed as ${form.by.value.trim()}.` : 'Your changes are not signed.');
    return;
  } else {
    edit = JSON.parse(form.dataset.editForm);
    if (form.dataset.ofLayer !== undefined) edit.layer = currentLayer();
    for (const [name, value] of new FormData(form))
      edit[name] = form.elements[name].dataset?.emptyNull !== undefined && value === '' ? null : value;
    if (edit.scale !== undefined) edit.scale = Number(edit.scale);
    if (edit.frame !== undefined) edit.frame = Number(edit.frame);
  }
  form.dataset.isSending = '';
  const result = await send(edit, draft);
  delete form.dataset.isSending;
  if (draft) sideDraft = null;
  if (wrong) wrong.textContent = result.problem ?? '';
  if (result.problem) return;
  form.closest('dialog')?.close();
  if (form.closest('dialog')) form.reset();
  if (['rename-layer', 'add-layer', 'duplicate-layer'].includes(edit.do)) follow(edit.name, edit.do !== 'rename-layer');
}

function currentLayer() {
  address();
  return new URL(location.href).searchParams.get('layer') ?? page.dataset.layer;
}

// The selection goes to a layer; after it was added the focus too.
function follow(layer, takesFocus) {
  const url = new URL(location.href);
  url.searchParams.set('layer', layer);
  history.replaceState(null, '', url);
  page.dataset.layer = layer;
  const c = grid.model.columns.findIndex(column => column.key === layer);
  if (c >= 0) grid.move([grid.at[0], c], false, !takesFocus);
  refreshSide(30);
}

// How well a row is meant: by the beginning of its key, name or alias, by a part of them, or only by its group.
function meaning(row, text) {
  const names = [row.key, row.label, ...(row.aliases ?? [])].map(name => name.toLowerCase().replace(/[._-]/g, ' '));
  if (names.some(name => name.startsWith(text))) return 3;
  if (names.some(name => text.split(/\s+/).every(word => name.includes(word)))) return 2;
  return `${row.label} ${row.key} ${row.group}`.toLowerCase().includes(text) ? 1 : 0;
}

function seek() {
  const text = document.getElementById('grid-find').value.trim().toLowerCase().replace(/[._-]/g, ' '),
    only = document.getElementById('only-used').checked;
  const best = Math.max(1, ...grid.model.rows.map(row => meaning(row, text)));
  grid.hide(row => (only && !row.inUse) || (text !== '' && meaning(row, text) < best));
}

document.addEventListener('submit', event => {
  const form = event.target;
  if (!form.matches('[data-edit-form], [data-cell-form], [data-pass-form], [data-item-form], [data-change-form], [data-name-form]')) return;
  event.preventDefault();
  submit(form);
});

document.addEventListener('click', event => {
  const target = event.target,
    button = target.closest('[data-edit]'),
    opens = target.closest('[data-opens]'),
    tab = target.closest('[data-tab]'),
    goto = target.closest('[data-goto-pass]'),
    head = target.closest('th[data-column]');
  if (button) {
    send(JSON.parse(button.dataset.edit));
    return;
  }
  if (opens) {
    const dialog = document.getElementById(opens.dataset.opens);
    for (const part of dialog.querySelectorAll('[data-current-layer]'))
      if (part.matches('input')) part.value = currentLayer() + part.dataset.currentLayer;
      else part.textContent = currentLayer();
    dialog.showModal();
  }
  target.closest('[data-closes]')?.closest('dialog').close();
  if (tab) {
    sessionStorage.setItem('plan-tab', tab.dataset.tab);
    dressSide();
  }
  if (goto && goto.dataset.gotoLayer && view === 'sheet') {
    const r = grid.model.rows.findIndex(row => row.key === goto.dataset.gotoPass),
      c = grid.model.columns.findIndex(column => column.key === goto.dataset.gotoLayer);
    if (c >= 0) {
      grid.hide(() => false);
      grid.move([Math.max(0, r), c], false);
    }
  }
  if (head && (view === 'sheet' || view === 'roles' || view === 'settings')) {
    if (view === 'sheet') sessionStorage.setItem('plan-tab', 'layer');
    grid.move([grid.at[0], grid.model.columns.findIndex(column => column.key === head.dataset.column)], false);
    // At once: what stands beside must not be drawn for the old place first, and replaced while somebody types into it.
    address();
    dressSide();
  }
});

side.addEventListener('focusin', event => {
  if (event.target.closest('form') && event.target.matches('input, select, textarea')) sideDraft ??= begin();
});

document.addEventListener('keydown', event => {
  if (!(event.ctrlKey || event.metaKey) || event.target.matches('input, textarea')) return;
  const back = event.key.toLowerCase() === 'z' && !event.shiftKey,
    again = event.key.toLowerCase() === 'y' || (event.key.toLowerCase() === 'z' && event.shiftKey);
  if (!back && !again) return;
  event.preventDefault();
  post(back ? 'undo' : 'redo', () => ({}));
});

undo.addEventListener('click', () => post('undo', () => ({})));
redo.addEventListener('click', () => post('redo', () => ({})));

const find = document.getElementById('grid-find');
find?.addEventListener('input', seek);
find?.addEventListener('keydown', event => {
  if (event.key !== 'Enter' && event.key !== 'Escape' && event.key !== 'ArrowDown') return;
  event.preventDefault();
  if (event.key === 'Escape') {
    find.value = '';
    seek();
    grid.move(grid.at, false);
    return;
  }
  const first = grid.model.rows.findIndex((row, r) => !grid.hidden.has(r));
  if (first < 0) return;
  find.value = '';
  seek();
  grid.move([first, grid.at[1]], false);
});
document.getElementById('only-used')?.addEventListener('change', seek);

document.getElementById('na-home')?.addEventListener('change', event => {
  const field = document.getElementById('na-template');
  field.value = field.dataset[`template${event.target.value[0].toUpperCase()}${event.target.value.slice(1)}`];
});

show(JSON.parse(document.getElementById('grid-model').textContent));
if (view === 'sheet') {
  const r = grid.model.rows.findIndex(row => row.key === page.dataset.pass),
    c = grid.model.columns.findIndex(column => column.key === page.dataset.layer);
  if (r >= 0 && c >= 0) grid.move([r, c], false, true);
}
dressSide();

// What others change is shown as it comes; one's own changes have been.
shot.addEventListener('sse:plan', async event => {
  const change = JSON.parse(event.detail.data);
  await waiting;
  if (change.revision <= revision) return;
  const answer = await fetch(`${base}/plan/model?view=${view}`);
  if (!answer.ok) return;
  show(await answer.json());
  const typed = grid.editing && grid.find(grid.editing.row, grid.editing.col),
    theirs = typed && grid.model.cells[typed[0]][typed[1]].text;
  say(
    `${change.by || 'Somebody'}: ${change.undo ? 'took back ' : ''}${change.what}` +
      (typed && theirs !== grid.editing.text ? `. The cell you are typing into says “${theirs || 'nothing'}” now.` : ''),
  );
  refreshSide(150);
  refreshFrame();
});
