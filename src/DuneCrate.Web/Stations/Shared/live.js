// Parts of a page that follow the server's events: put in only when they differ, so that nothing moves and nothing is announced
// for nothing.
import { renew } from './renew.js';

const shown = new Map();
const pace = 1000;

// The token of a form differs each time and says nothing.
const plain = text => text.replace(/value="CfDJ8[^"]*"/g, '');

document.addEventListener('htmx:beforeSwap', event => {
  const part = event.detail.target;
  if (!part.matches?.('[data-live]')) return;
  const text = plain(event.detail.xhr.responseText),
    active = document.activeElement;
  const isUsed = part.contains(active) && active !== part && !active.id;
  if (isUsed || shown.get(part.id) === text) event.detail.shouldSwap = false;
  else shown.set(part.id, text);
});

// A check that ends changes most of a page; it is loaded anew when nobody is typing.
document.querySelector('.shot[data-renew]')?.addEventListener('sse:check', () => setTimeout(renew, pace));
