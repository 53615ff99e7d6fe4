// The Look station: a pass at a frame in a view that goes to the pixel, how it is shown, and the probe over all passes. Place and settings
// are in the address and go along to other passes.
import { isShortcut } from './keys.js';
import { TileView } from './tile-view.js';
import { LookSettings } from './look-settings.js';
import { Notes } from './notes.js';
import { Overlay } from './overlay.js';
import { SceneMarks } from './scene-marks.js';
import { Probe } from './probe.js';
import { Beside } from './beside.js';
import { Playback } from './playback.js';
import { offerMattes, pickMatte } from './mattes.js';

const shot = document.querySelector('.shot');
const canvas = document.getElementById('picture');

if (canvas) {
  const says = document.getElementById('picture-says');
  const show = document.getElementById('show'),
    exposure = document.getElementById('exposure');
  const rest = 60,
    wheelStep = 500,
    panStep = 60;
  const wanted = new URLSearchParams(location.search),
    chosen = new LookSettings(wanted);
  let frame = Number(document.getElementById('ruler').dataset.frame),
    held = wanted.has('x') ? { x: Number(wanted.get('x')), y: Number(wanted.get('y')) } : null,
    info = null,
    asking = null,
    resting = 0,
    exposing = 0,
    drag = null,
    beside = null;

  function query(at = frame) {
    const found = new URLSearchParams({ layer: canvas.dataset.layer, pass: canvas.dataset.pass, frame: at }),
      other = show.selectedOptions[0];
    if (other?.value) {
      found.set('channels', other.value);
      if (other.dataset.part) found.set('part', other.dataset.part);
    }
    return found;
  }

  function address(level, column, row, at = frame, about = info) {
    const found = query(at);
    for (const [name, value] of Object.entries(chosen.shown(about))) found.set(name, value);
    for (const [name, value] of Object.entries({ level, column, row, ...beside?.difference() })) found.set(name, value);
    return `${shot.dataset.shot}/tile.png?${found}`;
  }

  const view = new TileView(canvas, {
    address,
    moved: () => {
      mark();
      beside?.follow();
      keepSoon();
    },
    samples: async box => {
      const answer = await fetch(`${shot.dataset.shot}/samples?${query()}&${new URLSearchParams(box)}`).catch(() => null);
      return answer?.ok ? answer.json() : null;
    },
    settled: () => {
      delete shot.dataset.busy;
      canvas.dataset.drawn = Number(canvas.dataset.drawn ?? 0) + 1;
      canvas.dataset.shown = `${canvas.dataset.pass} ${frame}`;
      says.hidden = true;
      ahead();
    },
    failed: fail,
  });
  const overlay = new Overlay(view),
    probe = new Probe(query, () => held);
  for (const field of document.querySelectorAll('[data-beside]')) if (wanted.has(field.name)) field.value = wanted.get(field.name);
  beside = new Beside(
    view,
    () => chosen.values(),
    () => frame,
    () => view.refresh(),
  );
  for (const field of beside.fields) field.addEventListener('input', keepSoon);
  document.getElementById('beside-numbers').addEventListener('click', () => {
    if (beside.isOn) probe.apart(beside.name, beside.words());
  });

  document.getElementById('beside-ranked').addEventListener('click', () => {
    if (beside.isOn) probe.ranked(beside.name, beside.stays, beside.words());
  });
  if (wanted.has('besidefrom')) beside.offer(wanted.get('besidefrom'));

  const whole = (at, width) =>
    `${shot.dataset.shot}/picture.png?${new URLSearchParams([...query(at), ...Object.entries(chosen.shown(info)), ['width', width]])}`;
  const notes = new Notes(view, {
    what: () => ({ layer: canvas.dataset.layer, pass: canvas.dataset.pass, frame }),
    picture: () => whole(frame, 0),
  });

  const marks = new SceneMarks(view, { at: () => frame, shot: shot.dataset.shot, isShown: () => !canvas.hidden });

  const playback = new Playback(view, {
    address: whole,
    at: () => frame,
    shown: at => {
      document.getElementById('frame-now').textContent = at;
    },
    ended: at => shot.dispatchEvent(new CustomEvent('go-frame', { detail: { frame: at } })),
  });

  async function fail(answer) {
    delete shot.dataset.busy;
    says.textContent =
      answer.status === 404
        ? `Frame ${frame} of this pass has not come.`
        : `Frame ${frame} cannot be shown: ${(await answer.json().catch(() => ({}))).detail ?? 'the server could not say why'}.`;
    says.hidden = false;
    delete canvas.dataset.shown;
    canvas.hidden = true;
    mark();
  }

  async function ask(at, signal) {
    return fetch(`${shot.dataset.shot}/seen?${query(at)}`, { signal }).catch(() => null);
  }

  async function load() {
    asking?.abort();
    const mine = (asking = new AbortController());
    shot.dataset.busy = 'on';
    const answer = await ask(frame, mine.signal);
    if (!answer || mine.signal.aborted) return;
    if (!answer.ok) {
      await fail(answer);
      return;
    }
    info = await answer.json();
    canvas.hidden = false;
    offer(info.choices);
    document.getElementById('primaries').textContent = info.primaries ?? 'not said, taken for the display’s';
    canvas.setAttribute('aria-label', `${canvas.dataset.layer} ${canvas.dataset.pass} at frame ${frame}`);
    for (const name of ['near', 'far']) {
      const field = document.getElementById(name);
      if (field) field.placeholder = info[name] === null ? 'none' : Number(info[name].toPrecision(4));
    }
    view.show(info);
    tell();
    restore();
    beside.load();
    offerMattes(query(), wanted.get('named'));
    mark();
    if (held) probe.at(held.x, held.y, frame);
  }

  // The next frame is asked for while nobody waits.
  async function ahead() {
    if (exposing) view.loadAhead(exposed(Number(exposure.value) + exposing, () => view.inView().map(tile => tile.address)));
    if (frame >= Number(document.getElementById('ruler').dataset.last)) return;
    const at = frame + 1,
      answer = await ask(at);
    if (!answer?.ok || at !== frame + 1) return;
    const next = await answer.json(),
      [old, now] = [address(0, 0, 0), address(0, 0, 0, at, next)].map(text => text.split('?')[1]);
    view.loadAhead(
      view.inView().map(tile => {
        const url = new URL(tile.address, location.href),
          part = name => url.searchParams.get(name);
        return old === now ? tile.address : address(part('level'), part('column'), part('row'), at, next);
      }),
    );
  }

  // What else the file holds, planned or not.
  function offer(choices) {
    const key = JSON.stringify(choices);
    if (show.dataset.of === key) return;
    show.dataset.of = key;
    const before = show.value || wanted.get('channels') || '';
    show.length = 1;
    for (const choice of choices) {
      const option = new Option(`${choice.name} (${choice.channels.split(',').length})`, choice.channels);
      if (choice.part !== null) option.dataset.part = choice.part;
      show.add(option);
    }
    show.value = [...show.options].some(option => option.value === before) ? before : '';
  }

  function restore() {
    if (!wanted.has('zoom')) return;
    view.goTo(Number(wanted.get('zoom')) || 1, [Number(wanted.get('cx')), Number(wanted.get('cy'))]);
    wanted.delete('zoom');
  }

  function tell() {
    const stops = Number(exposure.value);
    document.getElementById('exposure-says').textContent = `${stops > 0 ? '+' : ''}${stops} stops`;
    document.getElementById('legend').hidden = document.getElementById('mode').value !== 'stops' || (info?.far ?? null) !== null;
  }

  // While a slider moves, the picture follows once it rests.
  function changed() {
    exposing = 0;
    tell();
    keepSoon();
    clearTimeout(resting);
    resting = setTimeout(() => {
      view.refresh();
      beside.refresh();
    }, rest);
  }

  function mark() {
    overlay.mark(canvas.hidden ? null : info, held);
    notes.draw();
    marks.draw();
  }

  let keeping = 0;
  function keepSoon() {
    clearTimeout(keeping);
    keeping = setTimeout(keep, 150);
  }

  // Place, settings and the held pixel are in the address and go along to other passes.
  function keep() {
    const now = chosen.values(),
      put = (url, isSame) => {
        for (const field of chosen.fields)
          now[field.name] === undefined ? url.searchParams.delete(field.name) : url.searchParams.set(field.name, now[field.name]);
        for (const axis of ['x', 'y']) held ? url.searchParams.set(axis, held[axis]) : url.searchParams.delete(axis);
        const at =
          view.isFitted || !view.centre
            ? null
            : { zoom: +view.zoom.toFixed(4), cx: +view.centre[0].toFixed(2), cy: +view.centre[1].toFixed(2) };
        for (const name of ['zoom', 'cx', 'cy']) at ? url.searchParams.set(name, at[name]) : url.searchParams.delete(name);
        for (const field of beside.fields) {
          const value = beside.isOn ? field.value.trim() : '';
          value ? url.searchParams.set(field.name, value) : url.searchParams.delete(field.name);
        }
        const channels = isSame && show.value;
        channels ? url.searchParams.set('channels', channels) : url.searchParams.delete('channels');
        if (!isSame) for (const name of ['near', 'far', 'solo']) url.searchParams.delete(name);
        return url;
      };
    history.replaceState(null, '', put(new URL(location.href), true));
    document.querySelectorAll('#ladder a[data-keep]').forEach(link => {
      link.href = put(new URL(link.href), false);
    });
  }

  const at = event => {
    const box = canvas.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top];
  };

  const pixelAt = place => view.toPicture(...place).map(Math.floor);

  canvas.addEventListener('wheel', event => {
    event.preventDefault();
    view.zoomTo(view.zoom * Math.exp(-event.deltaY / wheelStep), ...at(event));
  });
  canvas.addEventListener('pointerdown', event => {
    if (event.button !== 0 || !info) return;
    drag = { from: at(event), last: at(event), isBox: event.shiftKey, isNote: notes.isDrawing, hasMoved: false };
    canvas.setPointerCapture(event.pointerId);
  });
  canvas.addEventListener('pointermove', event => {
    const [x, y] = at(event);
    if (!drag) {
      const pixel = view.pixelAt(x, y);
      if (pixel && !held) probe.soon(pixel.x, pixel.y, frame);
      return;
    }
    drag.hasMoved ||= Math.hypot(x - drag.from[0], y - drag.from[1]) > 3;
    if (!drag.hasMoved) return;
    if (drag.isNote) notes.drag(pixelAt(drag.from), pixelAt([x, y]));
    else if (drag.isBox) probe.drawBox(drag.from, [x, y]);
    else view.pan(x - drag.last[0], y - drag.last[1]);
    drag.last = [x, y];
  });
  canvas.addEventListener('pointerup', event => {
    const done = drag;
    drag = null;
    if (!done) return;
    if (done.isNote) notes.drag(pixelAt(done.from), pixelAt(done.last), true);
    else if (done.isBox && done.hasMoved) {
      const [a, b] = [pixelAt(done.from), pixelAt(done.last)];
      probe.box(Math.min(a[0], b[0]), Math.min(a[1], b[1]), Math.abs(a[0] - b[0]) + 1, Math.abs(a[1] - b[1]) + 1);
    } else if (!done.hasMoved) {
      held = held ? null : view.pixelAt(...at(event));
      if (held) {
        probe.at(held.x, held.y, frame);
        pickMatte(query(), held.x, held.y);
      }
      keep();
      mark();
    }
  });
  canvas.addEventListener('dblclick', event => {
    event.preventDefault();
    view.isFitted ? view.zoomTo(1, ...at(event)) : view.fit();
  });

  shot.addEventListener('frame', event => {
    frame = event.detail.frame;
    exposing = 0;
    load();
  });
  for (const field of chosen.fields) field.addEventListener('input', changed);
  show.addEventListener('change', () => {
    load();
    keepSoon();
  });
  document.getElementById('fit').addEventListener('click', () => view.fit());
  document.getElementById('one').addEventListener('click', () => view.zoomTo(1));

  function cycle(id) {
    const field = document.getElementById(id);
    field.selectedIndex = (field.selectedIndex + 1) % field.length;
    id === 'show' ? load() : changed();
  }

  // What would be so with another exposure.
  function exposed(stops, what) {
    const now = exposure.value;
    exposure.value = stops;
    const found = what();
    exposure.value = now;
    return found;
  }

  // Whoever changes it by keys goes on in the same direction: the next picture is asked for ahead.
  function expose(stops) {
    exposing = stops - Number(exposure.value);
    exposure.value = stops;
    tell();
    keepSoon();
    view.refresh();
    beside.refresh();
  }

  // Flips through the terms of the sum, with the same view: the next after the one that is shown.
  function nextTerm() {
    const terms = [...document.querySelectorAll('#probe-light a[data-term]')],
      now = terms.findIndex(term => term.dataset.term === canvas.dataset.pass);
    if (terms.length) terms[(now + 1) % terms.length].click();
  }

  const keys = {
    e: () => expose(Number(exposure.value) + 0.5),
    E: () => expose(Number(exposure.value) - 0.5),
    0: () => expose(0),
    f: () => view.fit(),
    1: () => view.zoomTo(1),
    '+': () => view.zoomTo(view.zoom * 2),
    '-': () => view.zoomTo(view.zoom / 2),
    v: () => cycle('view'),
    b: () => cycle('ground'),
    c: () => {
      beside.flip();
      keepSoon();
    },
    ' ': () => playback.toggle(),
    d: () => notes.next(),
    t: () => nextTerm(),
    m: () => {
      const field = document.getElementById('marks');
      field.checked = !field.checked;
      changed();
    },
  };
  const pans = { ArrowLeft: [panStep, 0], ArrowRight: [-panStep, 0], ArrowUp: [0, panStep], ArrowDown: [0, -panStep] };
  document.addEventListener(
    'keydown',
    event => {
      if (!isShortcut(event)) return;
      if (event.shiftKey && pans[event.key] && info) {
        event.stopImmediatePropagation();
        event.preventDefault();
        view.pan(...pans[event.key]);
      } else if (keys[event.key] && info) {
        if (event.key === ' ') event.preventDefault();
        keys[event.key]();
      } else if (playback.isPlaying && event.key.startsWith('Arrow')) playback.stop();
    },
    true,
  );

  tell();
  load();
}
