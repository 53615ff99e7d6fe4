// What every page shares: theme, keys, the ruler and the selection in the address.
import { startRuler } from './ruler.js';
import './renew.js';
import './fields.js';
import './live.js';
import { isShortcut } from './keys.js';
import { startFindings, stepFinding } from './findings.js';

const shot = document.querySelector('.shot');
const stations = { p: 'plan', r: 'receive', c: 'check', l: 'look', s: 'stack', k: 'crate' };
let afterG = false;

document.addEventListener('click', event => {
  if (event.target.closest('[data-theme-switch]')) {
    const root = document.documentElement;
    root.dataset.theme = root.dataset.theme === 'dusk' ? 'light' : 'dusk';
    localStorage.setItem('theme', root.dataset.theme);
  }
});

const ruler = shot ? startRuler(shot) : null;
if (shot) startFindings(ruler);

function stepRung(by) {
  const rungs = [...document.querySelectorAll('[data-rung]')];
  const now = rungs.findIndex(rung => rung.classList.contains('on'));
  rungs[Math.min(rungs.length - 1, Math.max(0, now + by))]?.click();
}

document.addEventListener('keydown', event => {
  if (!isShortcut(event)) return;
  const key = event.key;
  if (key === '?') {
    document.getElementById('keys')?.showModal();
    event.preventDefault();
    return;
  }
  if (!shot || document.querySelector('dialog[open]')) return;
  if (afterG) {
    afterG = false;
    if (key === 'y') location.href = '/';
    else if (stations[key]) document.querySelector(`.strip a[href*="/${stations[key]}?"]`)?.click();
    return;
  }
  const acts = {
    // A key that is held waits for the picture, so that every frame it passes is seen.
    ArrowLeft: () => (event.repeat && shot.dataset.busy ? null : ruler?.step(-1)),
    ArrowRight: () => (event.repeat && shot.dataset.busy ? null : ruler?.step(1)),
    Home: () => ruler?.toFirst(),
    End: () => ruler?.toLast(),
    ArrowUp: () => stepRung(-1),
    ArrowDown: () => stepRung(1),
    n: () => stepFinding(1),
    p: () => stepFinding(-1),
    g: () => {
      afterG = true;
    },
    '/': () => (document.getElementById('find-filter') ?? document.getElementById('grid-find'))?.focus(),
  };
  if (acts[key] && !(event.target.type === 'range' && key.startsWith('Arrow'))) {
    event.preventDefault();
    acts[key]();
  }
});
