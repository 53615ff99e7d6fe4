// The rebuild page: terms are taken out, seen alone or raised, and sum and residual follow; the residual of what is tried is measured
// along the range.
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

// Bars as the server draws them: heights are square roots, so that small residuals are seen beside large ones.
function draw(found) {
  const box = document.getElementById('residuals'),
    first = Number(box.dataset.first),
    frames = Number(box.dataset.frames),
    limit = Number(box.dataset.limit),
    most = Math.max(4 * limit, ...found.map(f => f.mean)),
    high = value => 58 * Math.sqrt(value / most);
  const line = 60 - high(limit);
  box.firstElementChild.innerHTML = `${found
    .map(({ frame, mean, off }) => {
      const tall = Math.max(1, high(mean));
      return `<rect class="${off ? 'bad' : ''}" data-frame="${frame}" x="${(1000 * (frame - first)) / frames}" width="${Math.max(
        1,
        1000 / frames - 1,
      )}" y="${60 - tall}" height="${tall}"><title>${frame}: ${+(100 * mean).toFixed(3)} %</title></rect>`;
    })
    .join('')}<line x1="0" x2="1000" y1="${line}" y2="${line}"></line>`;
}

document.addEventListener('click', async event => {
  const button = event.target.closest('#measure-range'),
    bar = event.target.closest('#residuals rect');
  if (bar) document.querySelector('.shot').dispatchEvent(new CustomEvent('go-frame', { detail: { frame: Number(bar.dataset.frame) } }));
  if (!button) return;
  button.disabled = true;
  const says = document.getElementById('range-says');
  says.textContent = 'measuring…';
  const answer = await fetch(button.dataset.from).catch(() => null);
  button.disabled = false;
  if (!answer?.ok) {
    says.textContent = 'it could not be measured; try again';
    return;
  }
  const found = await answer.json();
  draw(found);
  const begins = found.find(f => f.off);
  says.textContent = `these terms${begins ? `: off from ${begins.frame} on` : ': nothing is off'}`;
});
