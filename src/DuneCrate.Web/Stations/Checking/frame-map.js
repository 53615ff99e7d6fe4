// The frame map: rows of frames drawn column by column into one canvas that covers what is in view, so that hundreds of
// thousands of cells cost nothing.
// Wheel and keys zoom and pan, hovering tells, a click opens the frame. The map may be put in anew (by the filter); zoom and
// place stay. A plain script right behind the
// lanes, so that the map is drawn with the first paint of the page instead of after it.
(() => {
  const shot = document.querySelector('.shot');
  const least = 8,
    pitch = 26,
    beyond = 8,
    period = 6;
  const letters = {
    p: 'pending',
    g: 'good',
    o: 'other',
    u: 'unplanned',
    s: 'settling',
    x: 'suspect',
    w: 'wrong',
    d: 'damaged',
    m: 'missing',
  };
  const states = ['', ...Object.values(letters), 'edge'];
  let map,
    canvas,
    says,
    flag,
    range,
    lanes = [],
    first,
    last,
    from,
    to,
    frame,
    asked = 0,
    tiles = null,
    image = null,
    reasons = null;

  function readRuns(text) {
    const runs = [];
    for (const group of text.split(';').filter(Boolean)) {
      let next = first;
      for (const item of group.slice(1).split(',')) {
        const [gap, more] = item.split('+'),
          a = next + parseInt(gap, 36),
          b = a + (more ? parseInt(more, 36) : 0);
        runs.push({ state: letters[group[0]], code: states.indexOf(letters[group[0]]), a, b });
        next = b + 1;
      }
    }
    return runs;
  }

  // One tile of a column's colours for each state: as high as a lane, as wide as the patterns' period.
  function makeTiles(scale) {
    const style = getComputedStyle(document.documentElement),
      one = name => style.getPropertyValue(name).trim();
    const high = Math.round(pitch * scale),
      wide = Math.round(period * scale),
      brush = new OffscreenCanvas(wide, high).getContext('2d', { willReadFrequently: true });
    const draw = {
      pending: () => {
        brush.fillStyle = one('--edge');
        brush.fillRect(0, 12, period, 2);
      },
      good: () => {
        brush.fillStyle = one('--good-fill');
        brush.fillRect(0, 8, period, 10);
      },
      other: () => {
        brush.fillStyle = one('--edge');
        brush.fillRect(0, 8, period, 10);
      },
      unplanned: () => {
        brush.fillStyle = one('--note');
        brush.fillRect(0, 11, period, 4);
      },
      settling: () => {
        brush.fillStyle = one('--note');
        for (const y of [10, 16]) {
          brush.beginPath();
          brush.arc(3, y, 1.5, 0, 7);
          brush.fill();
        }
      },
      suspect: () => {
        draw.good();
        brush.fillStyle = one('--warn');
        brush.fillRect(0, 3, period, 3);
      },
      wrong: () => {
        brush.fillStyle = one('--block');
        brush.fillRect(0, 4, period, 18);
        brush.fillStyle = one('--card');
        brush.fillRect(0, 11, period, 4);
      },
      damaged: () => {
        brush.fillStyle = one('--block');
        brush.fillRect(0, 4, period, 18);
        brush.strokeStyle = one('--card');
        brush.lineWidth = 1.6;
        brush.beginPath();
        for (let y = 4; y <= 28; y += period) {
          brush.moveTo(-1, y + 1);
          brush.lineTo(7, y - 7);
        }
        brush.stroke();
        brush.clearRect(0, 0, period, 4);
        brush.clearRect(0, 22, period, 4);
      },
      missing: () => {
        brush.fillStyle = one('--block');
        brush.fillRect(0, 4, period, 18);
        brush.fillStyle = one('--raised');
        brush.fillRect(0, 5.5, period, 15);
      },
      edge: () => {
        brush.fillStyle = one('--block');
        brush.fillRect(0, 4, period, 18);
      },
    };
    const size = wide * high,
      colours = new Uint32Array(size * states.length);
    states.forEach((state, code) => {
      brush.setTransform(1, 0, 0, 1, 0, 0);
      brush.clearRect(0, 0, wide, high);
      brush.setTransform(wide / period, 0, 0, scale, 0, 0);
      draw[state]?.();
      colours.set(new Uint32Array(brush.getImageData(0, 0, wide, high).data.buffer), code * size);
    });
    tiles = { scale, high, wide, size, colours };
  }

  // The worst state of each column of a lane; runs come with the worst last.
  function columnsOf(lane, columns) {
    const perFrame = columns.length / (to - from),
      line = Math.max(1, Math.round(1.5 * tiles.scale));
    columns.fill(0);
    for (const run of lane.runs) {
      if (run.b < from || run.a >= to) continue;
      const x = Math.max(0, Math.round((run.a - from) * perFrame)),
        end = Math.min(columns.length, Math.max(x + 1, Math.round((run.b + 1 - from) * perFrame)));
      columns.fill(run.code, x, end);
      if (run.state === 'missing') {
        if (run.a >= from) columns.fill(states.length - 1, x, Math.min(end, x + line));
        if (run.b < to) columns.fill(states.length - 1, Math.max(x, end - line), end);
      }
    }
  }

  // Line by line: a column's place among the tiles stays the same down a lane.
  function fill(pixels, width, top, end) {
    const columns = new Uint8Array(width),
      places = new Uint32Array(width),
      { colours, wide, high, size } = tiles;
    let at = 0;
    for (let i = top; i < end; i++) {
      columnsOf(lanes[i], columns);
      for (let x = 0; x < width; x++) places[x] = columns[x] * size + (x % wide);
      for (let y = 0; y < high; y++) {
        for (let x = 0, down = y * wide; x < width; x++, at++) pixels[at] = colours[places[x] + down];
      }
    }
  }

  // Only what is another than before is set, so that zooming costs no layout of the page.
  function set(target, name, value) {
    if (target[name] !== value) target[name] = value;
  }

  function paint() {
    asked = 0;
    const scale = window.devicePixelRatio || 1,
      place = (frame - from + 0.5) / (to - from),
      wide = flag.parentElement.getBoundingClientRect().width;
    set(flag.style, 'transform', `translateX(${(place * wide).toFixed(1)}px)`);
    set(flag, 'hidden', place < 0 || place > 1);
    set(range, 'textContent', to - from > last - first ? '' : `frames ${Math.ceil(from)} to ${Math.floor(to - 0.001)}; = shows all`);
    if (lanes.length) {
      if (tiles?.scale !== scale) makeTiles(scale);
      const box = lanes[0].row.lastElementChild.getBoundingClientRect();
      const top = Math.max(0, Math.floor(-box.top / pitch) - beyond),
        end = Math.min(lanes.length, Math.ceil((innerHeight - box.top) / pitch) + beyond);
      const width = Math.max(1, Math.round(box.width * scale)),
        count = Math.max(1, end - top),
        height = count * tiles.high;
      if (canvas.width !== width || canvas.height !== height) {
        [canvas.width, canvas.height] = [width, height];
        canvas.style.height = `${height / scale}px`;
      }
      set(canvas.style, 'top', `${lanes[0].row.offsetTop + top * pitch}px`);
      const brush = canvas.getContext('2d', { willReadFrequently: true });
      if (image?.width !== width || image.height !== height) image = brush.createImageData(width, height);
      fill(new Uint32Array(image.data.buffer), width, top, end);
      brush.putImageData(image, 0, 0);
    }
    if (map.dataset.from !== String(from) || map.dataset.to !== String(to)) {
      [map.dataset.from, map.dataset.to] = [from, to];
      document.dispatchEvent(new CustomEvent('map-span'));
    }
    map.dataset.paintedAt ||= String(performance.now());
    map.dataset.painted = String(Number(map.dataset.painted || 0) + 1);
  }

  function ask() {
    if (!asked) asked = requestAnimationFrame(paint);
  }

  function show(newFrom, newTo) {
    const span = Math.min(last + 1 - first, Math.max(least, newTo - newFrom));
    from = Math.min(last + 1 - span, Math.max(first, newFrom));
    to = from + span;
    ask();
  }

  function zoom(times, around) {
    show(around - (around - from) * times, around + (to - around) * times);
  }

  // Whether a frame set's text, such as 1-10,12,20-40x2, holds a frame.
  function holds(frames, number) {
    return frames.split(',').some(text => {
      const [, a, b, step] = text.match(/^(-?\d+)(?:-(-?\d+)(?:x(\d+))?)?$/) || [];
      return a !== undefined && number >= Number(a) && number <= Number(b ?? a) && (number - Number(a)) % Number(step ?? 1) === 0;
    });
  }

  function at(event) {
    const cells = event.target.closest('.cells');
    if (!cells) return null;
    const box = cells.getBoundingClientRect();
    return { lane: lanes.find(l => l.row === cells.parentElement), place: from + ((event.clientX - box.left) / box.width) * (to - from) };
  }

  // Why cells are as they are is fetched when somebody first points at the map.
  async function why(output, number) {
    reasons ??= fetch(map.dataset.reasons)
      .then(answer => answer.json())
      .then(list => Map.groupBy(list, finding => finding.o))
      .catch(() => new Map());
    return ((await reasons).get(output) || [])
      .filter(f => holds(f.f, number))
      .map(f => f.m)
      .join(' ');
  }

  async function tell(there) {
    const number = Math.floor(there.place),
      run = there.lane.runs.findLast(r => r.a <= number && r.b >= number),
      { layer, label, output } = there.lane.row.dataset;
    const text = `${layer} ${label} ${number}: ${run ? run.state : 'nothing planned'}`;
    says.dataset.of = text;
    says.textContent = text;
    const more = await why(output, number);
    if (more && says.dataset.of === text) says.textContent = `${text}. ${more}`;
  }

  function listen() {
    map.addEventListener(
      'wheel',
      event => {
        const there = at(event);
        if (!there) return;
        event.preventDefault();
        if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
          const by = ((event.deltaX || event.deltaY) / 800) * (to - from);
          show(from + by, to + by);
        } else {
          zoom(Math.exp(event.deltaY / 400), there.place);
        }
      },
      { passive: false },
    );
    map.addEventListener('pointermove', event => {
      const there = at(event);
      if (there) tell(there);
      else {
        says.textContent = '';
        delete says.dataset.of;
      }
    });
    map.addEventListener('pointerleave', () => {
      says.textContent = '';
      delete says.dataset.of;
    });
    map.addEventListener('click', event => {
      const there = at(event);
      if (!there) return;
      const url = new URL(there.lane.row.querySelector('a').href);
      url.pathname = `${shot.dataset.shot}/look`;
      url.searchParams.set('frame', Math.min(last, Math.max(first, Math.floor(there.place))));
      location.href = url;
    });
  }

  function start() {
    const anew = document.getElementById('lanes');
    if (!anew || anew === map) return;
    const known = map;
    map = anew;
    canvas = document.getElementById('lane-cells');
    says = document.getElementById('lane-says');
    flag = map.querySelector('[data-flag]');
    range = map.parentElement.querySelector('[data-range]');
    [first, last] = [Number(map.dataset.first), Number(map.dataset.last)];
    frame ??= Number(map.dataset.frame);
    if (!known) [from, to] = [first, last + 1];
    lanes = [...map.querySelectorAll('.lane')].map(row => ({
      row,
      get runs() {
        return (this.read ??= readRuns(row.dataset.runs));
      },
    }));
    listen();
    paint();
  }

  addEventListener('keydown', event => {
    if (event.ctrlKey || event.metaKey || event.altKey || event.target.closest('input, textarea, select')) return;
    if (localStorage.getItem('single-keys') === 'off') return;
    const middle = frame >= from && frame < to ? frame + 0.5 : (from + to) / 2,
      by = (to - from) / 4;
    if (event.key === '+') zoom(0.5, middle);
    else if (event.key === '-') zoom(2, middle);
    else if (event.key === ',') show(from - by, to - by);
    else if (event.key === '.') show(from + by, to + by);
    else if (event.key === '=') show(first, last + 1);
    else return;
    event.preventDefault();
  });

  shot.addEventListener('frame', event => {
    frame = event.detail.frame;
    if (frame < from || frame >= to) show(frame - (to - from) / 2, frame + (to - from) / 2);
    else ask();
  });
  addEventListener('resize', ask);
  addEventListener('scroll', ask, true);
  document.body.addEventListener('htmx:afterSettle', start);
  const themed = () => {
    tiles = null;
    ask();
  };
  new MutationObserver(themed).observe(document.documentElement, { attributes: true });
  matchMedia('(prefers-color-scheme: dark)').addEventListener('change', themed);
  start();
})();
