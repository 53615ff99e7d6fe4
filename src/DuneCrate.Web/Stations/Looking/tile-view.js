// Draws tiles of a pyramid into a canvas: pan, zoom to 64 times, pixel grid, samples in the pixels. It asks for the tiles in view and
// keeps the last ones; until a new picture is whole the one before shows through.
const mostZoom = 64,
  gridFrom = 16,
  samplesFrom = 32,
  keptTiles = 150,
  mostLevels = 12;

export class TileView {
  // acts: { address(level, column, row), samples(box), settled(), failed(answer), moved() }
  constructor(canvas, acts) {
    Object.assign(this, { canvas, acts, tiles: new Map(), before: [], zoom: 0, isFitted: true, asked: 0, told: null });
    new ResizeObserver(() => (this.isFitted ? this.fit() : this.ask())).observe(canvas);
  }

  // info: display and data window as corners, tile side.
  show(info) {
    const isOther = !this.info || info.data.join() !== this.info.data.join() || info.display.join() !== this.info.display.join();
    this.info = info;
    this.isSettled = false;
    this.told = null;
    if (isOther) this.before = [];
    if (this.isFitted || !this.zoom) this.fit();
    else this.ask();
  }

  // What is drawn is asked for anew: another exposure, another view.
  refresh() {
    this.isSettled = false;
    this.paint();
  }

  get whole() {
    const [a, b] = [this.info.data, this.info.display];
    return [Math.min(a[0], b[0]), Math.min(a[1], b[1]), Math.max(a[2], b[2]) + 1, Math.max(a[3], b[3]) + 1];
  }

  get size() {
    return { width: this.canvas.clientWidth, height: this.canvas.clientHeight };
  }

  fit() {
    if (!this.info) return;
    const [left, top, right, bottom] = this.whole,
      { width, height } = this.size;
    this.isFitted = true;
    this.zoom = Math.min(width / (right - left), height / (bottom - top)) || 1;
    this.centre = [(left + right) / 2, (top + bottom) / 2];
    this.moved();
  }

  // Zooms so that the point under x, y of the canvas stays where it is.
  zoomTo(zoom, x = this.size.width / 2, y = this.size.height / 2) {
    const [px, py] = this.toPicture(x, y);
    this.isFitted = false;
    this.zoom = Math.min(mostZoom, Math.max(1 / 256, zoom));
    const { width, height } = this.size;
    this.centre = [px - (x - width / 2) / this.zoom, py - (y - height / 2) / this.zoom];
    this.moved();
  }

  pan(dx, dy) {
    this.isFitted = false;
    this.centre = [this.centre[0] - dx / this.zoom, this.centre[1] - dy / this.zoom];
    this.moved();
  }

  goTo(zoom, centre) {
    this.isFitted = false;
    [this.zoom, this.centre] = [Math.min(mostZoom, zoom), centre];
    this.moved();
  }

  moved() {
    this.ask();
    this.acts.moved();
  }

  toPicture(x, y) {
    const { width, height } = this.size;
    return [this.centre[0] + (x - width / 2) / this.zoom, this.centre[1] + (y - height / 2) / this.zoom];
  }

  toCanvas(x, y) {
    const { width, height } = this.size;
    return [(x - this.centre[0]) * this.zoom + width / 2, (y - this.centre[1]) * this.zoom + height / 2];
  }

  // The pixel of the data window at a place of the canvas, or null.
  pixelAt(x, y) {
    if (!this.info) return null;
    const [px, py] = this.toPicture(x, y).map(Math.floor),
      [left, top, right, bottom] = this.info.data;
    return px >= left && py >= top && px <= right && py <= bottom ? { x: px, y: py } : null;
  }

  ask() {
    if (!this.asked) this.asked = requestAnimationFrame(() => this.paint());
  }

  // The tiles in view: where each lies in the picture and its address.
  inView() {
    const scale = this.zoom * devicePixelRatio,
      level = Math.min(mostLevels, Math.max(0, Math.floor(Math.log2(1 / scale) + 0.01))),
      side = this.info.tile * 2 ** level,
      [left, top, right, bottom] = this.info.data,
      { width, height } = this.size,
      [x0, y0] = this.toPicture(0, 0),
      [x1, y1] = this.toPicture(width, height),
      found = [];
    const from = (at, edge) => Math.max(0, Math.floor((at - edge) / side)),
      to = (at, edge, end) => Math.min(Math.floor((end - edge) / side), Math.floor((at - edge) / side));
    for (let row = from(y0, top); row <= to(y1, top, bottom); row++)
      for (let column = from(x0, left); column <= to(x1, left, right); column++)
        found.push({ address: this.acts.address(level, column, row), x: left + column * side, y: top + row * side, shrink: 2 ** level });
    return found;
  }

  load(address) {
    const known = this.tiles.get(address);
    if (known) {
      this.tiles.delete(address);
      this.tiles.set(address, known);
      return known;
    }
    const entry = { bitmap: null, stop: new AbortController() };
    this.tiles.set(address, entry);
    for (const [old, other] of this.tiles) {
      if (this.tiles.size <= keptTiles) break;
      if (other !== entry && other.bitmap) this.tiles.delete(old);
      else break;
    }
    fetch(address, { signal: entry.stop.signal })
      .then(async answer => {
        if (!answer.ok) {
          this.tiles.delete(address);
          if (!entry.isAhead) this.acts.failed(answer);
          return;
        }
        entry.bitmap = await createImageBitmap(await answer.blob());
        // The last tile in view is not kept waiting for the next frame of the display.
        if (this.wanted?.every(tile => this.tiles.get(tile.address)?.bitmap)) this.paint();
        else this.ask();
      })
      .catch(() => this.tiles.delete(address));
    return entry;
  }

  // Tiles that will be wanted next, without showing them.
  loadAhead(addresses) {
    for (const address of addresses) if (!this.tiles.has(address)) this.load(address).isAhead = true;
  }

  paint() {
    cancelAnimationFrame(this.asked);
    this.asked = 0;
    const { canvas } = this,
      { width, height } = this.size,
      ratio = devicePixelRatio || 1;
    if (!this.info || !width) return;
    if (canvas.width !== Math.round(width * ratio) || canvas.height !== Math.round(height * ratio))
      [canvas.width, canvas.height] = [Math.round(width * ratio), Math.round(height * ratio)];
    const brush = canvas.getContext('2d');
    brush.setTransform(ratio, 0, 0, ratio, 0, 0);
    brush.clearRect(0, 0, width, height);
    if (this.proxy) {
      const [left, top, right, bottom] = this.info.data,
        [x, y] = this.toCanvas(left, top);
      brush.drawImage(this.proxy, x, y, (right + 1 - left) * this.zoom, (bottom + 1 - top) * this.zoom);
      return;
    }
    const wanted = (this.wanted = this.inView()),
      addresses = new Set(wanted.map(tile => tile.address));
    for (const [address, entry] of this.tiles)
      if (!entry.bitmap && !entry.isAhead && !addresses.has(address)) {
        entry.stop.abort();
        this.tiles.delete(address);
      }
    const now = wanted.map(tile => ({ ...tile, bitmap: this.load(tile.address).bitmap })),
      isWhole = now.every(tile => tile.bitmap);
    canvas.setAttribute('aria-busy', !isWhole);
    if (!isWhole) for (const tile of this.before) this.draw(brush, tile);
    for (const tile of now) if (tile.bitmap) this.draw(brush, tile);
    if (isWhole) this.before = now;
    if (this.zoom >= gridFrom) this.grid(brush);
    if (this.zoom >= samplesFrom) this.samples(brush);
    if (isWhole && !this.isSettled) {
      this.isSettled = true;
      this.acts.settled();
    }
  }

  draw(brush, { bitmap, x, y, shrink }) {
    const [left, top] = this.toCanvas(x, y),
      [, , right, bottom] = this.info.data;
    brush.imageSmoothingEnabled = this.zoom * shrink < 2;
    const wide = Math.min(bitmap.width * shrink, right + 1 - x),
      high = Math.min(bitmap.height * shrink, bottom + 1 - y);
    brush.drawImage(bitmap, left, top, wide * this.zoom, high * this.zoom);
  }

  grid(brush) {
    const { width, height } = this.size,
      [x0, y0] = this.toPicture(0, 0).map(Math.floor);
    brush.strokeStyle = 'rgb(0 0 0 / .35)';
    brush.lineWidth = 1;
    brush.beginPath();
    for (let at = this.toCanvas(x0, 0)[0]; at <= width; at += this.zoom) {
      brush.moveTo(Math.round(at) + 0.5, 0);
      brush.lineTo(Math.round(at) + 0.5, height);
    }
    for (let at = this.toCanvas(0, y0)[1]; at <= height; at += this.zoom) {
      brush.moveTo(0, Math.round(at) + 0.5);
      brush.lineTo(width, Math.round(at) + 0.5);
    }
    brush.stroke();
  }

  async samples(brush) {
    const { width, height } = this.size,
      [x, y] = this.toPicture(0, 0).map(Math.floor),
      [right, bottom] = this.toPicture(width, height).map(Math.ceil),
      box = `${x},${y},${right - x},${bottom - y},${this.acts.address(0, 0, 0)}`;
    if (this.told?.box !== box) {
      if (this.telling === box) return;
      this.telling = box;
      const told = await this.acts.samples({ x, y, width: right - x, height: bottom - y });
      if (this.telling !== box) return;
      this.telling = null;
      this.told = { box, ...(told ?? { channels: [] }) };
      this.ask();
      return;
    }
    const { told } = this,
      lines = told.channels.length;
    brush.font = `${Math.max(7, Math.min(12, this.zoom / (lines + 1)))}px "IBM Plex Mono", monospace`;
    brush.textAlign = 'center';
    brush.textBaseline = 'middle';
    brush.lineWidth = 2.5;
    brush.strokeStyle = 'rgb(0 0 0 / .75)';
    brush.fillStyle = '#fff';
    for (let row = 0; row < told.height; row++)
      for (let column = 0; column < told.width; column++) {
        const [left, top] = this.toCanvas(told.x + column, told.y + row);
        told.channels.forEach((channel, i) => {
          const text = channel.values[row * told.width + column],
            at = [left + this.zoom / 2, top + (this.zoom * (i + 1)) / (lines + 1), this.zoom - 4];
          brush.strokeText(text, ...at);
          brush.fillText(text, ...at);
        });
      }
  }
}
