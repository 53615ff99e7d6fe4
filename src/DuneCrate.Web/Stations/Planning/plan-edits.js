// What a cell that is written means in each grid: the change that is sent, what Space does, and how the cell looks until it is answered.
export const edits = {
  sheet: cells => ({ do: 'cells', cells: cells.map(x => ({ layer: x.col, pass: x.row, text: x.text })) }),
  roles: cells => ({ do: 'role-cells', cells: cells.map(x => ({ item: x.row, layer: x.col, text: x.text })) }),
  scene: cells => ({ do: 'item-cells', cells: cells.map(x => ({ item: x.row, column: x.col, text: x.text })) }),
  settings: cells => ({ do: 'setting-cells', cells: cells.map(x => ({ layer: x.col, name: x.row, text: x.text })) }),
  files: cells => ({
    do: 'several',
    what: 'files renamed',
    edits: cells.map(x => {
      const [layer, home, pass] = x.row.split('|');
      return { do: 'outputs', layers: [layer], home: home.toLowerCase(), pass: pass ?? null, [x.col]: x.text };
    }),
  }),
};

export const toggles = {
  sheet: text => (text === '' ? 'x' : ''),
  roles: (text, column) => column.options[(column.options.indexOf(text) + 1) % column.options.length],
  settings: text => (text === 'yes' ? 'no' : text === 'no' ? '' : text === '' ? 'yes' : null),
  scene: () => null,
  files: () => null,
};

export const expects = {
  sheet: (text, old) => ({
    shown: text === '' ? '' : text === 'x' ? old.shown || '…' : text.replace(/\bshared\b ?/, ''),
    mark: text === '' ? '' : /\boff\b/.test(text) ? 'off' : 'on',
  }),
  roles: text => ({ shown: text || 'shown', mark: { shown: 'on', '': 'on', hidden: 'gone', holdout: 'hole' }[text] ?? 'part' }),
};

// The text of a cell as the form beside the sheet says it.
export function cellText(form) {
  const of = new FormData(form);
  if (of.get('state') === '') return '';
  const words = [
    of.get('state') === 'off' ? 'off' : '',
    of.get('type'),
    of.get('home'),
    of.get('lead') ? 'lead' : '',
    of.get('filter'),
    of.get('alpha'),
    of.get('edge') ? `edge=${of.get('edge').trim()}` : '',
    of.get('near')?.trim() ? `near=${of.get('near').trim()}` : '',
    of.get('far')?.trim() ? `far=${of.get('far').trim()}` : '',
    of.get('frames')?.trim() ? `frames=${of.get('frames').replace(/\s+/g, '')}` : '',
  ];
  return words.filter(Boolean).join(' ') || 'x';
}
