// The frame map: runs drawn on one canvas a lane, so that hundreds of thousands of cells cost nothing. Wheel and keys zoom and pan, hovering tells, a click opens the frame.
const map = document.getElementById('lanes');
const shot = document.querySelector('.shot');
const first = Number(map.dataset.first), last = Number(map.dataset.last);
const findings = JSON.parse(map.dataset.findings);
const says = document.getElementById('lane-says');
const flag = map.querySelector('[data-flag]');
const least = 8;
let from = first, to = last + 1;
let frame = Number(map.dataset.frame);
let colours = {};
let asked = 0;

const states = { p: 'pending', g: 'good', u: 'unplanned', s: 'settling', x: 'suspect', d: 'damaged', m: 'missing' };

const lanes = [...map.querySelectorAll('.lane')].map(row => {
  let runs = null;
  return {
    row,
    canvas: row.querySelector('canvas'),
    // Read when the lane comes into view.
    get runs() {
      return runs ??= row.dataset.runs.split(';').filter(r => r).map(text => {
        const [letter, a, b] = text.split(' ');
        return { state: states[letter], a: Number(a), b: Number(b) };
      });
    },
  };
});
const trouble = new Map();
for (const finding of findings) {
  if (!trouble.has(finding.o)) trouble.set(finding.o, []);
  trouble.get(finding.o).push(finding);
}

function readColours() {
  const style = getComputedStyle(document.documentElement);
  const one = name => style.getPropertyValue(name).trim();
  patterns = null;
  colours = { good: one('--good-fill'), block: one('--block'), card: one('--card'), raised: one('--raised'), warn: one('--warn'), note: one('--note'), edge: one('--edge') };
}

function pattern(context, scale, draw) {
  const tile = document.createElement('canvas');
  tile.width = tile.height = 6 * scale;
  const brush = tile.getContext('2d');
  brush.scale(scale, scale);
  draw(brush);
  return context.createPattern(tile, 'repeat');
}

// The patterns for a scale and theme; one canvas's pattern serves all.
let patterns = null;

function makePatterns(scale) {
  const brush = lanes[0].canvas.getContext('2d');
  patterns = {
    scale,
    hatch: pattern(brush, scale, b => {
      b.fillStyle = colours.block; b.fillRect(0, 0, 6, 6);
      b.strokeStyle = colours.card; b.lineWidth = 1.6;
      b.beginPath(); b.moveTo(-1, 7); b.lineTo(7, -1); b.moveTo(-1, 1); b.lineTo(1, -1); b.moveTo(5, 7); b.lineTo(7, 5); b.stroke();
    }),
    dots: pattern(brush, scale, b => { b.fillStyle = colours.note; b.beginPath(); b.arc(3, 3, 1.5, 0, 7); b.fill(); }),
  };
}

function paintLane(lane, scale, width, height) {
  const brush = lane.canvas.getContext('2d');
  if (lane.canvas.width !== Math.round(width * scale)) {
    lane.canvas.width = Math.round(width * scale);
    lane.canvas.height = Math.round(height * scale);
  }
  const { hatch, dots } = patterns;
  brush.setTransform(1, 0, 0, 1, 0, 0);
  brush.clearRect(0, 0, lane.canvas.width, lane.canvas.height);
  brush.setTransform(scale, 0, 0, scale, 0, 0);
  const perFrame = width / (to - from);
  let drawnTo = -1, drawnState = '';
  for (const run of lane.runs) {
    if (run.b < from || run.a >= to) continue;
    const x = (run.a - from) * perFrame, wide = Math.max(1, (run.b + 1 - run.a) * perFrame);
    // Cells of one state that fall on one pixel are drawn once.
    if (run.state === drawnState && x + wide <= drawnTo) continue;
    [drawnTo, drawnState] = [Math.ceil(x + wide), run.state];
    if (run.state !== 'good') brush.clearRect(x, 0, wide, height);
    switch (run.state) {
      case 'damaged': brush.fillStyle = hatch; brush.fillRect(x, 4, wide, 18); break;
      case 'missing':
        brush.fillStyle = colours.raised; brush.fillRect(x, 4, wide, 18);
        brush.strokeStyle = colours.block; brush.lineWidth = 1.5; brush.strokeRect(x + 0.75, 4.75, Math.max(0.5, wide - 1.5), 16.5);
        break;
      case 'suspect':
        brush.fillStyle = colours.good; brush.fillRect(x, 8, wide, 10);
        brush.fillStyle = colours.warn; brush.fillRect(x, 3, wide, 3);
        break;
      case 'settling': brush.fillStyle = dots; brush.fillRect(x, 7, wide, 12); break;
      case 'unplanned': brush.fillStyle = colours.note; brush.fillRect(x, 11, wide, 4); break;
      case 'pending': brush.fillStyle = colours.edge; brush.fillRect(x, 12, wide, 2); break;
      default: brush.fillStyle = colours.good; brush.fillRect(x, 8, wide, 10);
    }
  }
}

function paint() {
  asked = 0;
  const scale = window.devicePixelRatio || 1;
  if (lanes.length) {
    if (patterns?.scale !== scale) makePatterns(scale);
    const view = map.getBoundingClientRect(), width = lanes[0].canvas.clientWidth, height = lanes[0].canvas.clientHeight, pitch = lanes[0].row.offsetHeight;
    lanes.forEach((lane, i) => {
      const top = view.top + i * pitch;
      if (top < innerHeight + pitch && top > -2 * pitch) paintLane(lane, scale, width, height);
    });
  }
  const place = 100 * (frame - from + 0.5) / (to - from);
  flag.style.left = `${place}%`;
  flag.hidden = place < 0 || place > 100;
  const range = map.parentElement.querySelector('[data-range]');
  range.textContent = to - from > last - first ? '' : `frames ${Math.ceil(from)} to ${Math.floor(to - 0.001)}; = shows all`;
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
  const span = (to - from) * times;
  show(around - (around - from) * times, around - (around - from) * times + span);
}

// Whether a frame set's text, such as 1-10,12,20-40x2, holds a frame.
function holds(frames, number) {
  return frames.split(',').some(text => {
    const [, a, b, step] = text.match(/^(-?\d+)(?:-(-?\d+)(?:x(\d+))?)?$/) || [];
    return a !== undefined && number >= Number(a) && number <= Number(b ?? a) && (number - Number(a)) % Number(step ?? 1) === 0;
  });
}

function at(event) {
  const lane = event.target.closest('.lane');
  const canvas = lane?.querySelector('canvas');
  if (!canvas || event.target !== canvas) return null;
  const box = canvas.getBoundingClientRect();
  return { lane, place: from + (event.clientX - box.left) / box.width * (to - from) };
}

map.addEventListener('wheel', event => {
  const there = at(event);
  if (!there) return;
  event.preventDefault();
  if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
    const by = (event.deltaX || event.deltaY) / 800 * (to - from);
    show(from + by, to + by);
  } else {
    zoom(Math.exp(event.deltaY / 400), there.place);
  }
}, { passive: false });

map.addEventListener('pointermove', event => {
  const there = at(event);
  if (!there) { says.textContent = ''; return; }
  const number = Math.floor(there.place);
  const run = lanes.find(l => l.row === there.lane).runs.findLast(r => r.a <= number && r.b >= number);
  const why = (trouble.get(there.lane.dataset.output) || []).filter(f => holds(f.f, number)).map(f => f.m);
  says.textContent = `${there.lane.dataset.layer} ${there.lane.dataset.label} ${number}: ${run ? run.state : 'nothing planned'}${why.length ? `. ${why.join(' ')}` : ''}`;
});
map.addEventListener('pointerleave', () => { says.textContent = ''; });

map.addEventListener('click', event => {
  const there = at(event);
  if (!there) return;
  const url = new URL(`${shot.dataset.shot}/look`, location.href);
  url.search = new URLSearchParams({ layer: there.lane.dataset.layer, pass: there.lane.dataset.pass, frame: Math.min(last, Math.max(first, Math.floor(there.place))) }).toString();
  location.href = url;
});

addEventListener('keydown', event => {
  if (event.ctrlKey || event.metaKey || event.altKey || event.target.closest('input, textarea, select')) return;
  const middle = frame >= from && frame < to ? frame + 0.5 : (from + to) / 2, by = (to - from) / 4;
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
new MutationObserver(() => { readColours(); ask(); }).observe(document.documentElement, { attributes: true });
matchMedia('(prefers-color-scheme: dark)').addEventListener('change', () => { readColours(); ask(); });

readColours();
paint();
