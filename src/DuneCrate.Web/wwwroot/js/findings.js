// The list of findings: filter by words, step with n and p.
export function startFindings() {
  const filter = document.getElementById('find-filter');
  filter?.addEventListener('input', () => {
    const words = filter.value.toLowerCase().split(/\s+/).filter(Boolean);
    const items = [...document.querySelectorAll('[data-find]')];
    for (const item of items) item.hidden = !words.every(word => item.dataset.text.toLowerCase().includes(word));
    document.getElementById('find-count').textContent = `${items.filter(item => !item.hidden).length} of ${items.length}`;
  });
  filter?.addEventListener('keydown', event => {
    if (event.key === 'Escape') { filter.value = ''; filter.dispatchEvent(new Event('input')); filter.blur(); }
  });
  document.querySelector('[data-find].on')?.scrollIntoView({ block: 'nearest' });
}

export function stepFinding(by) {
  const items = [...document.querySelectorAll('[data-find]')].filter(item => !item.hidden);
  if (items.length === 0) return;
  const now = items.findIndex(item => item.classList.contains('on'));
  const next = items[(now < 0 ? (by > 0 ? 0 : items.length - 1) : (now + by + items.length) % items.length)];
  const url = new URL(next.dataset.href, location.href), station = document.querySelector('.shot').dataset.station;
  if (station === 'look' || station === 'stack') url.pathname = url.pathname.replace(/\/check$/, `/${station}`);
  location.href = url;
}
