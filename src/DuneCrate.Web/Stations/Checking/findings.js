// The list of findings: narrowed by the server, stepped through with n and p; forms are signed with the name that was given last.
import { sign } from './signed.js';

// What narrows map and findings, by its names in the address.
export const names = ['of-layer', 'of-pass', 'rule', 'severity', 'state', 'words', 'order'];

export function startFindings(ruler) {
  const form = document.getElementById('narrow');
  document.getElementById('find-filter')?.addEventListener('keydown', event => {
    if (event.key === 'Escape') {
      event.target.value = '';
      event.target.dispatchEvent(new Event('input', { bubbles: true }));
      event.target.blur();
    }
  });
  // The selects beside the map belong to the form and stand outside it.
  document.addEventListener('change', event => {
    if (form && event.target.form === form && !form.contains(event.target)) window.htmx.trigger(form, 'change');
  });
  // What asks for nothing is left out of addresses.
  form?.addEventListener('htmx:configRequest', event => {
    for (const name of names) if (!event.detail.formData.get(name)) event.detail.formData.delete(name);
  });
  form?.addEventListener('htmx:afterRequest', event => {
    if (!event.detail.successful || event.target !== form) return;
    const url = new URL(event.detail.pathInfo.finalRequestPath ?? event.detail.pathInfo.responsePath, location.href);
    history.replaceState(null, '', url.pathname + url.search);
    ruler?.keep();
  });
  document.body.addEventListener('htmx:afterSettle', event => sign(event.target));
  document.body.addEventListener('submit', event => {
    const by = event.target.querySelector?.('[data-signed]');
    if (by?.value) localStorage.setItem('signed', by.value);
  });
  document.querySelector('[data-find].on')?.scrollIntoView({ block: 'nearest' });
}

export function stepFinding(by) {
  const items = [...document.querySelectorAll('[data-find]')],
    more = document.querySelector('[data-more-findings]');
  if (items.length === 0) return;
  const now = items.findIndex(item => item.classList.contains('on'));
  if (by > 0 && now === items.length - 1 && more) {
    document.body.addEventListener('htmx:afterSettle', () => stepFinding(by), { once: true });
    more.click();
    return;
  }
  const next = items[now < 0 ? (by > 0 ? 0 : items.length - 1) : (now + by + items.length) % items.length];
  const url = new URL(next.dataset.href, location.href),
    station = document.querySelector('.shot').dataset.station;
  if (station === 'look' || station === 'stack') url.pathname = url.pathname.replace(/\/check$/, `/${station}`);
  location.href = url;
}
