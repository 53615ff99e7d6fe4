// The rebuild page: terms are taken out, seen alone or raised, and sum and residual follow.
const part = () => document.getElementById('rebuild');

function terms() {
  return [...document.querySelectorAll('#terms [data-term]')].sort((a, b) => a.dataset.term - b.dataset.term);
}

function gains() {
  return terms().map(term => (term.querySelector('[data-on]').checked ? Number(term.querySelector('[data-stops]').value) || 0 : 'off'));
}

function show(sum, weights) {
  const url = new URL(location.href);
  for (const [name, value] of [
    ['sum', sum],
    ['gains', weights.every(w => w === 0) ? '' : weights.join(',')],
  ]) {
    if (value) url.searchParams.set(name, value);
    else url.searchParams.delete(name);
  }
  history.replaceState(null, '', url);
  window.htmx.ajax('GET', url.pathname + url.search, { source: part(), target: part(), select: '#rebuild', swap: 'outerHTML' });
}

document.addEventListener('change', event => {
  if (event.target.matches('#terms [data-on], #terms [data-stops]')) show(part().dataset.sum, gains());
});

document.addEventListener('click', event => {
  const solo = event.target.closest('#terms [data-solo]');
  if (!solo) return;
  const own = solo.closest('[data-term]'),
    isAlone = terms().every(t => t.querySelector('[data-on]').checked === (t === own));
  for (const term of terms()) term.querySelector('[data-on]').checked = isAlone || term === own;
  show(part().dataset.sum, gains());
});

document.addEventListener('submit', event => {
  if (event.target.id !== 'sum-form') return;
  event.preventDefault();
  show(document.getElementById('sum').value.trim(), []);
});

// A bar of the strip goes to its frame.
document.addEventListener('click', event => {
  const bar = event.target.closest('#residuals rect');
  if (bar) document.querySelector('.shot').dispatchEvent(new CustomEvent('go-frame', { detail: { frame: Number(bar.dataset.frame) } }));
});

// A click on a picture goes to that pixel of the beauty; by keyboard the link goes to the whole picture.
document.addEventListener('click', event => {
  const link = event.target.closest('.rebuild-pictures a.well');
  if (!link || !event.detail || event.ctrlKey || event.metaKey) return;
  event.preventDefault();
  const [x, y, width, height] = link.closest('[data-window]').dataset.window.split(',').map(Number),
    box = link.querySelector('img').getBoundingClientRect(),
    at = (from, place, size, pixels) => from + Math.min(pixels - 1, Math.max(0, Math.floor((place / size) * pixels)));
  const url = new URL(link.href);
  url.searchParams.set('zoom', '16');
  url.searchParams.set('cx', at(x, event.clientX - box.left, box.width, width) + 0.5);
  url.searchParams.set('cy', at(y, event.clientY - box.top, box.height, height) + 0.5);
  location.assign(url);
});
