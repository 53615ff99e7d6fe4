// The viewer: a pass at a frame with exposure, one channel alone, near and far; and the probe over all passes.
import { isShortcut } from './keys.js';

const shot = document.querySelector('.shot');
const picture = document.getElementById('picture');

if (picture) {
  const says = document.getElementById('picture-says'),
    exposure = document.getElementById('exposure'),
    solo = document.getElementById('solo');
  const near = document.getElementById('near'),
    far = document.getElementById('far'),
    table = document.querySelector('#probe tbody'),
    where = document.getElementById('probe-at');
  const known = sessionStorage.getItem('exposure');
  let frame = Number(document.getElementById('ruler').dataset.frame);
  const ring = document.getElementById('ring');
  const frameline = document.getElementById('frameline'),
    size = { width: Number(picture.dataset.width), height: Number(picture.dataset.height) };
  const rest = 60;
  let held = null,
    asking = null,
    probing = null,
    resting = 0,
    waiting = 0,
    origin = { x: 0, y: 0 },
    extent = { width: 1, height: 1 };
  if (known) exposure.value = known;

  function address(at) {
    const query = new URLSearchParams({ layer: picture.dataset.layer, pass: picture.dataset.pass, frame: at, exposure: exposure.value });
    if (solo.value) query.set('solo', solo.value);
    for (const [name, field] of [
      ['near', near],
      ['far', far],
    ]) {
      if (field && field.value.trim() !== '' && Number.isFinite(Number(field.value))) query.set(name, Number(field.value));
    }
    return `${shot.dataset.shot}/picture.png?${query}`;
  }

  // While a slider moves, the picture follows once it rests; a picture that is not wanted any more is given up.
  function showSoon() {
    tellExposure();
    clearTimeout(resting);
    resting = setTimeout(show, rest);
  }

  function tellExposure() {
    const stops = Number(exposure.value);
    document.getElementById('exposure-says').textContent = `${stops > 0 ? '+' : ''}${stops} stops`;
    sessionStorage.setItem('exposure', exposure.value);
  }

  async function show() {
    clearTimeout(resting);
    tellExposure();
    asking?.abort();
    const mine = (asking = new AbortController());
    const answer = await fetch(address(frame), { signal: mine.signal }).catch(() => null);
    if (!answer || mine.signal.aborted) return;
    if (answer.ok) {
      const [x, y, right, bottom] = answer.headers.get('Data-Window').split(' ').map(Number);
      origin = { x, y };
      extent = { width: right - x + 1, height: bottom - y + 1 };
      const old = picture.src;
      const pixels = await answer.blob().catch(() => null);
      if (!pixels || mine.signal.aborted) return;
      picture.src = URL.createObjectURL(pixels);
      if (old.startsWith('blob:')) URL.revokeObjectURL(old);
      picture.alt = `${picture.dataset.layer} ${picture.dataset.pass} at frame ${frame}`;
      says.hidden = true;
      picture.hidden = false;
      if (frame < Number(document.getElementById('ruler').dataset.last)) new Image().src = address(frame + 1);
    } else {
      says.textContent =
        answer.status === 404
          ? `Frame ${frame} of this pass has not come.`
          : `Frame ${frame} cannot be shown: ${(await answer.json()).detail}.`;
      says.hidden = false;
      picture.hidden = true;
    }
    if (held) probe(held.x, held.y);
  }

  // The ring marks the held pixel, the line the edge of the display window where the pixels do not end there, wherever the
  // picture is scaled to.
  function mark() {
    const box = fitted(),
      well = picture.parentElement.getBoundingClientRect();
    const left = x => box.left - well.left + (x - origin.x) * box.scale,
      top = y => box.top - well.top + (y - origin.y) * box.scale;
    const isShown = !picture.hidden && picture.naturalWidth > 0;
    ring.hidden = !held || !isShown;
    if (held) Object.assign(ring.style, { left: `${left(held.x + 0.5)}px`, top: `${top(held.y + 0.5)}px` });
    const isWhole = origin.x === 0 && origin.y === 0 && box.width === size.width && box.height === size.height;
    frameline.hidden = isWhole || !isShown;
    Object.assign(frameline.style, {
      left: `${left(0)}px`,
      top: `${top(0)}px`,
      width: `${size.width * box.scale}px`,
      height: `${size.height * box.scale}px`,
    });
  }

  function fitted() {
    // In pixels of the data window: a large picture comes shrunk.
    const box = picture.getBoundingClientRect(),
      { width, height } = extent;
    const scale = Math.min(box.width / width, box.height / height);
    return { scale, width, height, left: box.left + (box.width - width * scale) / 2, top: box.top + (box.height - height * scale) / 2 };
  }

  async function probe(x, y) {
    // What is told is of the frame that was asked about, however late the answer comes.
    const asked = frame,
      query = new URLSearchParams({ layer: picture.dataset.layer, frame: asked, x, y });
    probing?.abort();
    const mine = (probing = new AbortController());
    const answer = await fetch(`${shot.dataset.shot}/probe?${query}`, { signal: mine.signal }).catch(() => null);
    if (!answer?.ok || mine.signal.aborted) return;
    const passes = await answer.json().catch(() => null);
    if (!passes || mine.signal.aborted) return;
    where.textContent = `pixel ${x}, ${y} of frame ${asked}${held ? ', held' : ''}`;
    table.replaceChildren(
      ...passes.map(found => {
        const row = document.createElement('tr'),
          name = document.createElement('td'),
          values = document.createElement('td');
        name.textContent = found.pass;
        if (found.pass === picture.dataset.pass) name.style.fontWeight = '600';
        values.className = 'mono num';
        values.textContent = found.samples.map(sample => sample.value).join('  ');
        values.title = found.samples.map(sample => `${sample.channel} ${sample.value}`).join('\n');
        row.append(name, values);
        return row;
      }),
    );
  }

  // The held pixel is in the address and goes along to other passes.
  function keep() {
    const put = url => {
      for (const axis of ['x', 'y']) held ? url.searchParams.set(axis, held[axis]) : url.searchParams.delete(axis);
      return url;
    };
    history.replaceState(null, '', put(new URL(location.href)));
    document.querySelectorAll('#ladder a[data-keep]').forEach(link => {
      link.href = put(new URL(link.href));
    });
  }

  function pixel(event) {
    const box = fitted(),
      x = Math.floor((event.clientX - box.left) / box.scale),
      y = Math.floor((event.clientY - box.top) / box.scale);
    return x >= 0 && y >= 0 && x < box.width && y < box.height ? { x: x + origin.x, y: y + origin.y } : null;
  }

  shot.addEventListener('frame', event => {
    frame = event.detail.frame;
    show();
  });
  for (const field of [exposure, solo, near, far]) field?.addEventListener('input', showSoon);
  picture.addEventListener('pointermove', event => {
    const at = pixel(event);
    if (held || !at) return;
    clearTimeout(waiting);
    waiting = setTimeout(() => probe(at.x, at.y), 30);
  });
  picture.addEventListener('click', event => {
    held = held ? null : pixel(event);
    if (held) probe(held.x, held.y);
    keep();
    mark();
  });
  picture.addEventListener('load', mark);
  addEventListener('resize', mark);
  document.addEventListener('keydown', event => {
    if (!isShortcut(event)) return;
    const by = { e: 0.5, E: -0.5 }[event.key];
    if (by) exposure.value = Number(exposure.value) + by;
    if (event.key === '0') exposure.value = 0;
    if (by || event.key === '0') show();
  });

  const wanted = new URLSearchParams(location.search);
  show();
  if (wanted.has('x')) {
    held = { x: Number(wanted.get('x')), y: Number(wanted.get('y')) };
    probe(held.x, held.y);
    keep();
  }
}
