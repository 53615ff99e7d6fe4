// The composite page: strata are chosen, dragged and moved by keys; opacity, gain and exposure are seen while they are being set.
const part = () => document.getElementById('composite');

function post(handler, values = {}) {
  const now = part();
  if (now.classList.contains('seen-only')) return;
  window.htmx.ajax('POST', `${now.dataset.at}&handler=${handler}`, {
    source: now,
    target: now,
    swap: 'outerHTML',
    values: { revision: now.dataset.revision, ...values },
  });
}

function show(strip, row) {
  const url = new URL(location.href),
    now = part();
  url.searchParams.set('stack', now.dataset.stack);
  url.searchParams.set('strip', strip ?? now.dataset.strip);
  url.searchParams.set('row', row ?? now.dataset.row);
  history.replaceState(null, '', url);
  window.htmx.ajax('GET', url.pathname + url.search, { source: now, target: now, select: '#composite', swap: 'outerHTML' });
}

// The picture as it is being tried: what fields say now, not only what is kept.
let waiting = 0;
function tryOut() {
  clearTimeout(waiting);
  waiting = setTimeout(() => {
    const image = document.getElementById('composite-image'),
      url = new URL(image.dataset.src, location.href),
      form = document.getElementById('strip-form'),
      what = document.querySelector('[name=what]:checked')?.value ?? '';
    url.searchParams.set('exposure', document.getElementById('composite-exposure').value);
    url.searchParams.set('strip', part().dataset.strip);
    url.searchParams.set('what', what);
    if (form?.opacity) url.searchParams.set('opacity', form.opacity.value / 100);
    if (form?.gain) url.searchParams.set('gain', form.gain.value);
    image.src = url.pathname + url.search;
  }, 15);
}

// Where the picture lies within its well: top and height in the window.
function lies(image) {
  const box = image.getBoundingClientRect(),
    high = image.naturalHeight * Math.min(box.width / image.naturalWidth, box.height / image.naturalHeight);
  return { top: box.top + (box.height - high) / 2, high };
}

function cut() {
  const now = part(),
    line = document.getElementById('cut'),
    image = document.getElementById('composite-image');
  if (!line || !image?.naturalWidth) return;
  const { top, high } = lies(image),
    well = image.parentElement.getBoundingClientRect();
  line.style.top = `${top - well.top + (high * (Number(now.dataset.row) + 0.5)) / now.dataset.high}px`;
}

document.addEventListener('click', event => {
  const act = event.target.closest('#composite [data-act]'),
    stratum = event.target.closest('#strata [data-strip]'),
    image = event.target.closest('#composite-image');
  if (act && (!act.dataset.sure || confirm(act.dataset.sure))) post(act.dataset.act, { undo: act.dataset.undo, copy: act.dataset.copy });
  else if (stratum) show(stratum.dataset.strip);
  else if (image) {
    const { top, high } = lies(image),
      share = (event.clientY - top) / high;
    if (share >= 0 && share < 1) show(null, Math.floor(share * part().dataset.high));
  }
});

document.addEventListener('input', event => {
  if (event.target.matches('[data-try], [name=what], #composite-exposure')) tryOut();
  if (event.target.id === 'composite-exposure') {
    const stops = Number(event.target.value);
    document.getElementById('composite-exposure-says').textContent = `${stops > 0 ? '+' : ''}${stops} stops`;
  }
});

document.addEventListener('change', event => {
  if (event.target.matches('#composite [data-go]')) location.href = event.target.value;
});

document.addEventListener(
  'keydown',
  event => {
    const stratum = event.target.closest('#strata [data-strip]');
    const isUndo = (event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z' && !event.target.closest('input, textarea');
    if (isUndo && part()) {
      event.preventDefault();
      post('Step', { undo: !event.shiftKey });
    }
    if (!stratum) return;
    const at = Number(stratum.dataset.strip),
      by = { ArrowUp: 1, ArrowDown: -1 }[event.key];
    if (by) {
      event.preventDefault();
      event.stopPropagation();
      const last = document.querySelectorAll('#strata [data-strip]').length - 1,
        to = Math.min(last, Math.max(0, at + by));
      if (to === at) return;
      if (event.altKey) post('Move', { from: at, to });
      else show(to);
    } else if (event.key === 'Delete') {
      event.preventDefault();
      post('Remove', { at });
    }
  },
  true,
);

let dragged = null;
document.addEventListener('dragstart', event => {
  dragged = event.target.closest?.('#strata [data-strip]') ?? null;
});
document.addEventListener('dragover', event => {
  if (dragged && event.target.closest('#strata [data-strip]')) event.preventDefault();
});
document.addEventListener('drop', event => {
  const to = event.target.closest('#strata [data-strip]');
  if (!dragged || !to) return;
  event.preventDefault();
  if (to !== dragged) post('Move', { from: dragged.dataset.strip, to: to.dataset.strip });
  dragged = null;
});

// What was chosen keeps the focus, and the address says what is seen.
document.addEventListener('htmx:afterSettle', event => {
  if (event.detail.target?.id !== 'composite') return;
  const now = part(),
    url = new URL(location.href);
  for (const name of ['stack', 'strip', 'row']) if (now.dataset[name]) url.searchParams.set(name, now.dataset[name]);
  url.searchParams.delete('handler');
  history.replaceState(null, '', url);
  if (document.activeElement === document.body) now.querySelector('#strata [aria-selected=true]')?.focus();
  document.getElementById('composite-image')?.addEventListener('load', cut);
});
document.getElementById('composite-image')?.addEventListener('load', cut);
addEventListener('resize', cut);
addEventListener('load', cut);
