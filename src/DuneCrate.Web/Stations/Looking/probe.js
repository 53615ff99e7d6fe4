// The probe: every pass of the layer at a pixel, where its values lie among the frame's, and numbers over a box.
const shot = document.querySelector('.shot');

const percent = share => `${(100 * share).toFixed(1)} %`;
const make = (tag, fields) => Object.assign(document.createElement(tag), fields);

export class Probe {
  constructor(query, held) {
    Object.assign(this, { query, held, asking: null, waiting: 0 });
    this.table = document.querySelector('#probe tbody');
    this.where = document.getElementById('probe-at');
    this.boxes = document.getElementById('probe-box');
    this.line = document.getElementById('box-line');
    this.light = document.getElementById('probe-light');
    this.along = document.getElementById('probe-curve');
    document.getElementById('probe-copy')?.addEventListener('click', () => navigator.clipboard?.writeText(this.text()));
  }

  soon(x, y, frame) {
    clearTimeout(this.waiting);
    this.waiting = setTimeout(() => this.at(x, y, frame), 30);
  }

  // What is told is of the frame that was asked about, however late the answer comes.
  async at(x, y, frame) {
    const query = this.query(frame);
    for (const [name, value] of Object.entries({ x, y })) query.set(name, value);
    this.asking?.abort();
    const mine = (this.asking = new AbortController());
    const answer = await fetch(`${shot.dataset.shot}/probe?${query}`, { signal: mine.signal }).catch(() => null);
    if (!answer?.ok || mine.signal.aborted) return;
    const passes = await answer.json().catch(() => null);
    if (!passes || mine.signal.aborted) return;
    this.where.textContent = `pixel ${x}, ${y} of frame ${frame}${this.held() ? ', held' : ''}`;
    const pass = query.get('pass');
    this.table.replaceChildren(
      ...passes.map(found => {
        const row = make('tr', {}),
          name = make('td', { textContent: found.pass }),
          values = make('td', { className: 'mono num', textContent: found.samples.map(sample => sample.value).join('  ') });
        if (found.pass === pass) name.style.fontWeight = '600';
        values.title = found.samples.map(s => `${s.channel} ${s.value}${s.among ? `, ${s.among}` : ''}`).join('\n');
        const among = found.samples.map(s => s.among).find(Boolean);
        if (found.name) values.append(make('small', { className: 'block', textContent: found.name }));
        if (found.unit) name.append(make('small', { className: 'block dim', textContent: found.unit }));
        if (among && this.held()) values.append(make('small', { className: 'block', textContent: among }));
        row.append(name, values);
        return row;
      }),
    );
    if (this.held()) {
      this.terms(query, mine.signal);
      this.curve(query, mine.signal);
    }
  }

  // The light of a pixel, cut by term; the term that is unlike its neighbours comes first and can be gone to with the same view.
  async terms(query, signal) {
    const answer = await fetch(`${shot.dataset.shot}/terms?${query}`, { signal }).catch(() => null);
    const terms = answer?.ok ? await answer.json().catch(() => []) : [];
    if (signal.aborted) return;
    const bar = make('div', { className: 'light' });
    for (const term of terms) {
      const part = make('i', { title: `${term.term}: ${percent(term.share)}` });
      part.style.flexGrow = term.share;
      if (term.standsOut) part.className = 'odd';
      bar.append(part);
    }
    const list = make('ol', {});
    for (const term of terms) {
      const row = make('li', {}),
        link = [...document.querySelectorAll('#ladder a[data-keep]')].find(
          a =>
            new URL(a.href).searchParams.get('pass') === term.passes[0] && new URL(a.href).searchParams.get('layer') === query.get('layer'),
        ),
        name = make(link ? 'a' : 'span', { textContent: term.term });
      if (link) Object.assign(name, { href: link.href, className: 'link' });
      name.dataset.term = term.passes[0];
      row.append(
        name,
        make('span', {
          className: 'mono dim',
          textContent: ` ${percent(term.share)}, around ${percent(term.around)}${term.standsOut ? ', stands out' : ''}`,
        }),
      );
      list.append(row);
    }
    this.light.replaceChildren(...(terms.length ? [make('h3', { textContent: 'Light of this pixel' }), bar, list] : []));
  }

  // The pixel along the range, with the frame that is looked at.
  async curve(query, signal) {
    const answer = await fetch(`${shot.dataset.shot}/curve?${query}`, { signal }).catch(() => null);
    const all = answer?.ok ? await answer.json().catch(() => []) : [];
    if (signal.aborted) return;
    const numbers = all.map(at => at.value).filter(value => value !== null),
      [least, most] = [Math.min(...numbers), Math.max(...numbers)];
    this.along.replaceChildren();
    if (numbers.length < 2) return;
    const x = i => (300 * (i + 0.5)) / all.length,
      y = value => 36 - (32 * (value - least)) / (most - least || 1),
      path = all
        .map((at, i) =>
          at.value === null ? '' : `${i && all[i - 1].value !== null ? 'L' : 'M'}${x(i).toFixed(1)} ${y(at.value).toFixed(1)}`,
        )
        .join(''),
      now = all.findIndex(at => at.frame === Number(query.get('frame'))),
      space = 'http://www.w3.org/2000/svg',
      svg = document.createElementNS(space, 'svg');
    svg.setAttribute('viewBox', '0 0 300 40');
    svg.setAttribute('role', 'img');
    svg.setAttribute(
      'aria-label',
      `This pixel from frame ${all[0].frame} to ${all.at(-1).frame}: ${least.toPrecision(4)} to ${most.toPrecision(4)}`,
    );
    const draw = (tag, fields) => {
      const node = document.createElementNS(space, tag);
      for (const [name, value] of Object.entries(fields)) node.setAttribute(name, value);
      svg.append(node);
    };
    draw('path', { d: path, fill: 'none', stroke: 'var(--sea)', 'stroke-width': 1.5 });
    if (now >= 0) draw('line', { x1: x(now), x2: x(now), y1: 0, y2: 40, stroke: 'var(--edge)' });
    this.along.replaceChildren(
      make('h3', { textContent: 'Along the range' }),
      svg,
      make('small', { className: 'mono', textContent: `${least.toPrecision(4)} to ${most.toPrecision(4)}` }),
    );
  }

  drawBox(from, to) {
    this.line.hidden = false;
    Object.assign(this.line.style, {
      left: `${Math.min(from[0], to[0])}px`,
      top: `${Math.min(from[1], to[1])}px`,
      width: `${Math.abs(from[0] - to[0])}px`,
      height: `${Math.abs(from[1] - to[1])}px`,
    });
  }

  async box(x, y, width, height) {
    const query = this.query();
    for (const [name, value] of Object.entries({ x, y, width, height })) query.set(name, value);
    const answer = await fetch(`${shot.dataset.shot}/box?${query}`).catch(() => null);
    this.line.hidden = true;
    if (!answer?.ok) return;
    const found = await answer.json();
    this.numbers(`Box ${found.width} × ${found.height} at ${found.x}, ${found.y} of frame ${query.get('frame')}`, found.channels, [
      'min',
      'mean',
      'max',
      'deviation',
      'odd',
    ]);
  }

  // Two whole files, channel by channel; only what differs.
  async apart(minus, words) {
    const query = this.query();
    query.set('minus', minus);
    const answer = await fetch(`${shot.dataset.shot}/apart?${query}`).catch(() => null);
    if (!answer) return;
    const found = await answer.json().catch(() => ({}));
    if (!answer.ok) {
      this.boxes.replaceChildren(make('p', { textContent: found.detail ?? 'They cannot be compared.' }));
      return;
    }
    const differ = found.channels.filter(channel => channel.off > 0);
    this.numbers(`Against ${words}: ${found.equal ? 'equal' : `${differ.length} of ${found.channels.length} channels differ`}`, differ, [
      'max',
      'mean',
      'rms',
      'psnr',
    ]);
    this.boxes.append(...found.notes.map(note => make('p', { className: 'dim', textContent: note })));
  }

  // The frames of the range, those first that differ most; each is gone to.
  async ranked(minus, stays, words) {
    const query = this.query(),
      frame = query.get('frame');
    for (const [name, value] of Object.entries({ minus, stays: stays ? 'on' : '' })) query.set(name, value);
    this.boxes.replaceChildren(make('p', { className: 'dim', textContent: 'Comparing every frame…' }));
    const answer = await fetch(`${shot.dataset.shot}/ranked?${query}`).catch(() => null),
      found = answer?.ok ? await answer.json().catch(() => null) : null;
    if (!found) {
      this.boxes.replaceChildren(make('p', { textContent: 'The frames cannot be compared.' }));
      return;
    }
    const differ = found.frames.filter(at => !at.isEqual),
      table = make('table', { className: 'plain w-full mono' }),
      row = cells => {
        const line = make('tr', {});
        line.append(...cells);
        table.append(line);
      };
    row(['frame', 'mean', 'max'].map((text, i) => make('th', { textContent: text, className: i ? 'num' : '' })));
    for (const at of differ) {
      const go = make('button', { type: 'button', textContent: at.frame }),
        cell = make('td', {});
      go.addEventListener('click', () => shot.dispatchEvent(new CustomEvent('go-frame', { detail: { frame: at.frame } })));
      if (String(at.frame) === frame) go.setAttribute('aria-current', 'true');
      cell.append(go);
      row([cell, ...[at.mean, at.max].map(text => make('td', { textContent: text, className: 'num' }))]);
    }
    const same = found.frames.length - differ.length;
    this.boxes.replaceChildren(
      make('h3', { textContent: `Frames against ${words.replace(/, \d+/, '')}` }),
      make('p', {
        className: 'dim',
        textContent: `${differ.length} differ, ${same} equal${found.absent ? `, ${found.absent} not in both` : ''}${
          found.step > 1 ? `; every ${found.step}th frame` : ''
        }`,
      }),
      ...(differ.length ? [table] : []),
    );
  }

  numbers(title, channels, names) {
    const head = make('tr', {}),
      cell = (tag, text) => make(tag, { textContent: text ?? '', className: 'num' }),
      table = make('table', { className: 'plain w-full mono' });
    head.append(...['', ...names].map(text => cell('th', text)));
    table.append(
      head,
      ...channels.map(channel => {
        const row = make('tr', {});
        row.append(...['name', ...names].map(name => cell('td', channel[name])));
        return row;
      }),
    );
    this.boxes.replaceChildren(make('h3', { textContent: title }), ...(channels.length ? [table] : []));
  }

  text() {
    const rows = [...this.table.rows].map(row => [...row.cells].map(cell => cell.textContent).join('\t')),
      boxes = [...this.boxes.querySelectorAll('tr')].map(row => [...row.cells].map(cell => cell.textContent).join('\t'));
    return [this.where.textContent, ...rows, this.boxes.querySelector('h3')?.textContent ?? '', ...boxes].filter(Boolean).join('\n');
  }
}
