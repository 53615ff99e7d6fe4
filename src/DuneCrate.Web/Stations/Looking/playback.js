// Plays the range at the shot's rate from proxies as wide as the view: they are asked for ahead, a few at once, and the last ones kept.
const atOnce = 4,
  ahead = 24,
  keptBytes = 384 << 20,
  widest = 960;

export class Playback {
  // view: the viewer's; address(frame, width): a proxy; at(): the frame now; shown(frame): it is seen; ended(frame): playing stopped there.
  constructor(view, acts) {
    const ruler = document.getElementById('ruler').dataset;
    Object.assign(this, { view, acts, first: Number(ruler.first), last: Number(ruler.last), exact: Number(ruler.exact) || 24 });
    Object.assign(this, { proxies: new Map(), loading: new Set(), timer: 0, missed: 0 });
    this.button = document.getElementById('play');
    this.how = document.getElementById('play-how');
    this.says = document.getElementById('play-says');
    this.button.addEventListener('click', () => this.toggle());
  }

  get isPlaying() {
    return this.timer !== 0;
  }

  toggle() {
    if (this.isPlaying) this.stop();
    else this.start();
  }

  // The frames in the order that they are played in, once around.
  order() {
    const all = Array.from({ length: this.last - this.first + 1 }, (_, i) => this.first + i);
    if (this.how.value === 'findings') {
      const told = new Set((this.how.dataset.findings || '').split(' ').filter(Boolean).map(Number)),
        only = all.filter(frame => told.has(frame));
      return only.length ? only : all;
    }
    return this.how.value === 'back' ? [...all, ...all.slice(1, -1).reverse()] : all;
  }

  start() {
    this.frames = this.order();
    this.begun = performance.now();
    this.from = Math.max(0, this.frames.indexOf(this.acts.at()));
    this.step = -1;
    this.missed = 0;
    this.width = Math.min(widest, Math.round(this.view.size.width * devicePixelRatio));
    this.button.textContent = 'Pause';
    this.timer = requestAnimationFrame(() => this.tick());
  }

  stop() {
    cancelAnimationFrame(this.timer);
    this.timer = 0;
    this.button.textContent = 'Play';
    this.view.proxy = null;
    this.view.ask();
    this.acts.ended(this.shown ?? this.acts.at());
  }

  // A frame that is not there in time is left out and counted: the rate is kept.
  tick() {
    if (!this.isPlaying) return;
    const step = Math.floor(((performance.now() - this.begun) * this.exact) / 1000);
    if (step !== this.step) {
      this.missed += Math.max(0, step - this.step - 1);
      this.step = step;
      const at = (this.from + step) % this.frames.length,
        frame = this.frames[at],
        bitmap = this.proxies.get(this.acts.address(frame, this.width));
      if (bitmap) {
        this.view.proxy = bitmap;
        this.view.ask();
        this.shown = frame;
        this.acts.shown(frame);
      } else this.missed++;
      this.says.textContent = `${this.missed ? `${this.missed} not in time` : ''}`;
      for (let i = 0; i < Math.min(ahead, this.frames.length); i++) this.load(this.frames[(at + i) % this.frames.length]);
    }
    this.timer = requestAnimationFrame(() => this.tick());
  }

  load(frame) {
    const address = this.acts.address(frame, this.width);
    if (this.loading.size >= atOnce || this.loading.has(address) || this.proxies.has(address)) return;
    this.loading.add(address);
    fetch(address)
      .then(answer => (answer.ok ? answer.blob() : null))
      .then(blob => blob && createImageBitmap(blob))
      .then(bitmap => {
        this.proxies.set(address, bitmap);
        let bytes = 0;
        for (const proxy of this.proxies.values()) bytes += proxy ? proxy.width * proxy.height * 4 : 0;
        for (const old of this.proxies.keys()) {
          if (bytes <= keptBytes) break;
          const proxy = this.proxies.get(old);
          bytes -= proxy ? proxy.width * proxy.height * 4 : 0;
          this.proxies.delete(old);
        }
      })
      .catch(() => {})
      .finally(() => this.loading.delete(address));
  }
}
