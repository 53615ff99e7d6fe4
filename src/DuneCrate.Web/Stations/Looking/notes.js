// Notes on pictures: drawn over the pass and frame that is seen, made by drawing, saved with the picture as PNG.
import { sign } from './signed.js';

const space = 'http://www.w3.org/2000/svg',
  shapes = ['box', 'arrow', 'point'],
  margin = 12,
  line = 18;

// The lines of a shape between two points of the canvas or picture: one path.
function outline(shape, [x0, y0], [x1, y1], size) {
  if (shape === 'box') return `M${x0} ${y0}H${x1}V${y1}H${x0}Z`;
  if (shape === 'point') return `M${x1 - size} ${y1}H${x1 + size}M${x1} ${y1 - size}V${y1 + size}`;
  const angle = Math.atan2(y1 - y0, x1 - x0),
    side = turn => `M${x1} ${y1}L${x1 - size * Math.cos(angle + turn)} ${y1 - size * Math.sin(angle + turn)}`;
  return `M${x0} ${y0}L${x1} ${y1}${side(0.5)}${side(-0.5)}`;
}

export class Notes {
  // acts: { what(): { layer, pass, frame }, picture(): the address of the whole picture, as it is shown }
  constructor(view, acts) {
    Object.assign(this, { view, acts, shape: null, from: null });
    this.svg = document.getElementById('drawn');
    this.more = document.getElementById('notes-more');
    this.chip = document.getElementById('notes-chip');
    this.more.addEventListener('click', event => {
      const draw = event.target.closest('[data-draw]');
      if (draw) this.choose(this.shape === draw.dataset.draw ? null : draw.dataset.draw);
      if (event.target.closest('#notes-save')) this.save();
    });
    sign(this.more);
    this.more.addEventListener('htmx:afterSettle', () => {
      this.from = this.to = null;
      this.choose(null);
    });
    this.draw();
  }

  // The notes of what is seen, and how many there are of it and in all.
  here() {
    const { layer, pass, frame } = this.acts.what();
    return [...document.querySelectorAll('[data-note]')]
      .filter(note => note.dataset.layer === layer && note.dataset.pass === pass && Number(note.dataset.frame) === frame)
      .map(note => {
        const [x0, y0, x1, y1] = note.dataset.points.split(' ').map(Number);
        return { shape: note.dataset.note, points: this.corners(note.dataset.note, [x0, y0], [x1, y1]), note };
      });
  }

  // Pixels become places: a box goes around them, an arrow and a point end in their middle.
  corners(shape, [x0, y0], [x1, y1]) {
    return shape === 'box'
      ? [
          [Math.min(x0, x1), Math.min(y0, y1)],
          [Math.max(x0, x1) + 1, Math.max(y0, y1) + 1],
        ]
      : [
          [x0 + 0.5, y0 + 0.5],
          [x1 + 0.5, y1 + 0.5],
        ];
  }

  // The shape that the next drag draws, or none.
  choose(shape) {
    this.shape = shape;
    for (const button of this.more.querySelectorAll('[data-draw]')) button.setAttribute('aria-pressed', button.dataset.draw === shape);
    this.draw();
  }

  // By key: the card opens with a box to be drawn, then the next shape.
  next() {
    this.more.open = true;
    this.choose(shapes[(shapes.indexOf(this.shape) + 1) % shapes.length]);
  }

  get isDrawing() {
    return this.shape !== null;
  }

  // Pixels of the picture that were drawn between; the words are asked for when the hand is lifted.
  drag(from, to, isDone) {
    [this.from, this.to] = [this.shape === 'point' ? to : from, to];
    this.draw();
    if (!isDone) return;
    const form = document.getElementById('note-form'),
      fields = { shape: this.shape, x: this.from[0], y: this.from[1], endX: to[0], endY: to[1], at: this.acts.what().frame };
    for (const [name, value] of Object.entries(fields)) form.elements[name].value = value;
    document.getElementById('note-words').hidden = false;
    document.getElementById('note-place').textContent = `${this.shape} at ${to.join(', ')}, frame ${fields.at}`;
    sign(form);
    this.drawnShape = this.shape;
    this.choose(null);
    form.elements.words.focus();
  }

  draw() {
    const all = document.querySelectorAll('[data-note]'),
      open = [...all].filter(note => !note.classList.contains('settled')).length,
      here = this.view.info && this.view.zoom ? this.here() : [],
      shape = this.shape ?? this.drawnShape;
    this.chip.textContent = all.length ? `${open} open` : '';
    const drawn = here.map(({ shape, points, note }, i) => ({
      shape,
      points,
      label: i + 1,
      isSettled: note.classList.contains('settled'),
    }));
    if (this.from && shape) drawn.push({ shape, points: this.corners(shape, this.from, this.to), label: '' });
    this.svg.replaceChildren(
      ...drawn.flatMap(({ shape, points, label, isSettled }) => {
        const [a, b] = points.map(point => this.view.toCanvas(...point)),
          path = document.createElementNS(space, 'path'),
          under = document.createElementNS(space, 'path'),
          text = document.createElementNS(space, 'text');
        for (const [node, colour, width] of [
          [under, '#222', 4],
          [path, '#fff', 2],
        ]) {
          node.setAttribute('d', outline(shape, a, b, 10));
          node.setAttribute('style', `fill:none;stroke:${colour};stroke-width:${width}${isSettled ? ';stroke-dasharray:4 4' : ''}`);
        }
        text.textContent = label;
        text.setAttribute('x', b[0] + 6);
        text.setAttribute('y', b[1] + 14);
        text.setAttribute('style', 'fill:#fff;stroke:#222;stroke-width:3;paint-order:stroke;font:600 13px Archivo, sans-serif');
        return [under, path, text];
      }),
    );
  }

  // The whole picture as it is shown, with what is drawn on it and the words below.
  async save() {
    const notes = this.here(),
      what = this.acts.what(),
      answer = await fetch(this.acts.picture()).catch(() => null);
    if (!answer?.ok) return;
    const bitmap = await createImageBitmap(await answer.blob()),
      [left, top, right] = this.view.info.data,
      scale = bitmap.width / (right + 1 - left),
      canvas = document.createElement('canvas'),
      size = Math.max(13, Math.round(bitmap.width / 90)),
      row = size * 1.5;
    canvas.width = bitmap.width;
    canvas.height = bitmap.height + row * (notes.length + 1) + margin;
    const brush = canvas.getContext('2d');
    brush.fillStyle = '#fff';
    brush.fillRect(0, 0, canvas.width, canvas.height);
    brush.drawImage(bitmap, 0, 0);
    brush.font = `600 ${size}px Archivo, sans-serif`;
    notes.forEach(({ shape, points }, i) => {
      const [a, b] = points.map(([x, y]) => [(x - left) * scale, (y - top) * scale]),
        path = new Path2D(outline(shape, a, b, size));
      for (const [colour, width] of [
        ['#222', size / 3],
        ['#fff', size / 6],
      ]) {
        brush.strokeStyle = colour;
        brush.lineWidth = width;
        brush.stroke(path);
        if (colour === '#222') brush.strokeText(i + 1, b[0] + size / 2, b[1] + size);
      }
      brush.fillStyle = '#fff';
      brush.fillText(i + 1, b[0] + size / 2, b[1] + size);
    });
    brush.fillStyle = '#222';
    brush.fillText(
      `${document.title.split('·').at(-1).trim()}, ${what.layer} ${what.pass}, frame ${what.frame}`,
      margin,
      bitmap.height + line,
    );
    brush.font = `${size}px Archivo, sans-serif`;
    notes.forEach(({ note }, i) =>
      brush.fillText(
        `${i + 1}  ${note.querySelector('[data-words]').textContent} (${note.querySelector('[data-words] + small').textContent})`,
        margin,
        bitmap.height + row * (i + 1) + line,
        canvas.width - 2 * margin,
      ),
    );
    const link = document.createElement('a');
    link.href = URL.createObjectURL(await new Promise(done => canvas.toBlob(done, 'image/png')));
    link.download = `${document.getElementById('notes-save').dataset.name}_${what.frame}.png`;
    link.click();
    URL.revokeObjectURL(link.href);
  }
}
