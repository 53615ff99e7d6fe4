// A second picture with the same view: split by a line, side by side, one at a time, or as a difference that the server makes.
import { TileView } from './tile-view.js';

const shot = document.querySelector('.shot');

export class Beside {
  // main: the viewer's own view; settings(): how pictures are shown; now(): the frame; changed(): the main picture is to be asked for anew.
  constructor(main, settings, now, changed) {
    Object.assign(this, { main, settings, now, changed, at: 0.5, isFlipped: false });
    this.canvas = document.getElementById('picture-beside');
    this.line = document.getElementById('split');
    this.chip = document.getElementById('beside-chip');
    this.fields = [...document.querySelectorAll('[data-beside]')];
    this.from = document.getElementById('beside-from');
    for (const field of this.fields) field.addEventListener('input', () => this.choose());
    document.getElementById('beside-more').addEventListener('toggle', () => this.offer());
    this.view = new TileView(this.canvas, {
      address: (level, column, row) => this.address(level, column, row),
      samples: async () => null,
      settled: () => {
        this.canvas.dataset.shown = this.words();
      },
      failed: () => {
        this.canvas.hidden = true;
        this.chip.textContent = `${this.words()}: not there`;
      },
      moved: () => {},
    });
    this.line.addEventListener('pointerdown', event => this.line.setPointerCapture(event.pointerId));
    this.line.addEventListener('pointermove', event => {
      if (event.buttons & 1) this.splitAt(event.clientX);
    });
    this.line.addEventListener('keydown', event => {
      const by = { ArrowLeft: -0.02, ArrowRight: 0.02 }[event.key];
      if (!by) return;
      event.preventDefault();
      event.stopPropagation();
      this.at = Math.min(1, Math.max(0, this.at + by));
      this.place();
    });
  }

  value(name) {
    return this.fields.find(field => field.name === name).value.trim();
  }

  get isOn() {
    return this.value('beside') !== '';
  }

  get isDifference() {
    return this.isOn && ['difference', 'signed'].includes(this.value('together'));
  }

  // The frame beside: the same, so many away (written with a sign), or a number of its own.
  get frame() {
    const text = this.value('besideframe');
    if (text === '') return this.now();
    return /^[+-]/.test(text) ? this.now() + Number(text) : Number(text) || this.now();
  }

  // Whether the frame beside is one of its own, not so many away.
  get stays() {
    return /^\d/.test(this.value('besideframe'));
  }

  words() {
    const from = this.from.selectedOptions[0];
    return `${this.value('beside').replace('|', ' · ')}, ${this.frame}${from?.value ? `, ${from.textContent}` : ''}`;
  }

  // The picture beside in one word for the server.
  get name() {
    return `${this.value('beside')}|${this.frame}|${this.from.value}`;
  }

  query() {
    const [layer, pass] = this.value('beside').split('|');
    return new URLSearchParams({ layer, pass, frame: this.frame, from: this.from.value });
  }

  // Other versions, folders and crates are looked for when somebody wants to choose one.
  async offer(wanted) {
    if (this.offered) return;
    this.offered = true;
    const answer = await fetch(`${shot.dataset.shot}/sources`).catch(() => null);
    for (const source of answer?.ok ? await answer.json() : []) this.from.add(new Option(source.words, source.key));
    if (wanted) {
      this.from.value = wanted;
      this.choose();
    }
  }

  // What the main picture's tiles are asked for with, when the difference is to be seen.
  difference() {
    return this.isDifference
      ? { minus: this.name, gain: this.value('gain') || '1', signed: this.value('together') === 'signed' ? 'on' : '' }
      : {};
  }

  address(level, column, row) {
    const query = this.query();
    for (const [name, value] of Object.entries({ ...this.settings(), level, column, row })) query.set(name, value);
    for (const name of ['near', 'far']) {
      const found = this.info?.[name];
      if (!query.has(name) && found !== null && found !== undefined) query.set(name, found);
    }
    return `${shot.dataset.shot}/tile.png?${query}`;
  }

  choose() {
    const { wasDifference } = this;
    this.wasDifference = this.isDifference;
    if (wasDifference || this.isDifference) this.changed();
    this.load();
  }

  async load() {
    this.chip.textContent = this.isOn ? this.words() : '';
    const isShown = this.isOn && !this.isDifference;
    this.canvas.hidden = !isShown;
    this.place();
    if (!isShown) return;
    const answer = await fetch(`${shot.dataset.shot}/seen?${this.query()}`).catch(() => null);
    if (!answer?.ok) {
      this.view.acts.failed();
      return;
    }
    this.info = await answer.json();
    this.view.show(this.info);
    this.follow();
  }

  refresh() {
    if (this.isOn && !this.isDifference) this.view.refresh();
  }

  follow() {
    if (this.canvas.hidden || !this.view.info || !this.main.zoom) return;
    this.view.goTo(this.main.zoom, this.main.centre);
  }

  splitAt(clientX) {
    const box = this.canvas.parentElement.getBoundingClientRect();
    this.at = Math.min(1, Math.max(0, (clientX - box.left) / box.width));
    this.place();
  }

  place() {
    const how = this.value('together'),
      isShown = !this.canvas.hidden,
      isSide = isShown && how === 'side';
    this.main.canvas.style.width = isSide ? '50%' : '';
    Object.assign(this.canvas.style, {
      left: isSide ? '50%' : '0',
      width: isSide ? '50%' : '100%',
      clipPath: isShown && how === 'split' ? `inset(0 0 0 ${100 * this.at}%)` : '',
      visibility: isShown && how === 'flip' && !this.isFlipped ? 'hidden' : '',
      pointerEvents: 'none',
    });
    this.line.hidden = !(isShown && how === 'split');
    this.line.style.left = `${100 * this.at}%`;
    this.line.setAttribute('aria-valuenow', Math.round(100 * this.at));
    this.follow();
  }

  flip() {
    if (!this.isOn) return;
    this.isFlipped = !this.isFlipped;
    this.fields.find(field => field.name === 'together').value = 'flip';
    this.choose();
  }
}
