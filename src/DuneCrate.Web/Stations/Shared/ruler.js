// The frame ruler: click, drag and keys choose the frame; address, links and flags follow, and views hear of it.
import { names } from './findings.js';

const pad = number => String(number).padStart(2, '0');

export function startRuler(shot) {
  const ruler = document.getElementById('ruler');
  if (!ruler) return null;
  const first = Number(ruler.dataset.first),
    last = Number(ruler.dataset.last),
    rate = Number(ruler.dataset.rate) || 24;
  let frame = Number(ruler.dataset.frame);
  let waiting = 0;

  function timecode(index) {
    const seconds = Math.floor(index / rate);
    return `${pad(Math.floor(seconds / 3600))}:${pad(Math.floor(seconds / 60) % 60)}:${pad(seconds % 60)}:${pad(index % rate)}`;
  }

  // A link with the frame and with what the findings are narrowed to.
  function withFrame(address) {
    const url = new URL(address, location.href),
      now = new URLSearchParams(location.search);
    url.searchParams.set('frame', frame);
    for (const name of names) {
      if (now.get(name)) url.searchParams.set(name, now.get(name));
      else url.searchParams.delete(name);
    }
    return url.pathname + url.search;
  }

  function keep() {
    document.querySelectorAll('a[data-keep]').forEach(link => {
      link.href = withFrame(link.href);
    });
    document.querySelectorAll('[data-frame-now]').forEach(field => {
      field.value = frame;
    });
  }

  function show() {
    const left = `${(100 * (frame - first + 0.5)) / (last - first + 1)}%`;
    document.querySelectorAll('#flag, [data-flag]:not(#lanes [data-flag])').forEach(flag => {
      flag.style.left = left;
    });
    document.getElementById('frame-now').textContent = frame;
    document.getElementById('frame-count').textContent = `frame ${frame - first + 1} of ${last - first + 1}`;
    document.getElementById('frame-timecode').textContent = timecode(frame - first);
    ruler.setAttribute('aria-valuenow', frame);
    history.replaceState(null, '', withFrame(location.href));
    keep();
    shot.dispatchEvent(new CustomEvent('frame', { detail: { frame } }));
    const follows = document.querySelector('[data-follow-frame]');
    if (follows) {
      clearTimeout(waiting);
      waiting = setTimeout(() => follow(follows), 120);
    }
  }

  // Parts of a page that the server draws for a frame are fetched anew once the frame holds still.
  function follow(part) {
    window.htmx.ajax('GET', withFrame(location.href), { target: part, select: `#${part.id}`, swap: 'outerHTML' });
  }

  function set(to) {
    const next = Math.min(last, Math.max(first, to));
    if (next !== frame) {
      frame = next;
      show();
    }
  }

  shot.addEventListener('go-frame', event => set(event.detail.frame));

  function at(event, box) {
    return first + Math.floor(((event.clientX - box.left) / box.width) * (last - first + 1));
  }

  ruler.addEventListener('pointerdown', event => {
    ruler.setPointerCapture(event.pointerId);
    set(at(event, ruler.getBoundingClientRect()));
  });
  ruler.addEventListener('pointermove', event => {
    if (event.buttons & 1) set(at(event, ruler.getBoundingClientRect()));
  });

  return {
    get frame() {
      return frame;
    },
    step: by => set(frame + by),
    toFirst: () => set(first),
    toLast: () => set(last),
    keep,
  };
}
