// Puts in what has come as the server tells of it, at most once a second and without moving anything that has not changed.
import { renew } from './renew.js';

const base = document.querySelector('.shot').dataset.shot;
const pace = 1000;
const due = new Map();

async function refresh(id) {
  const place = document.getElementById(id);
  if (!place || place.contains(document.activeElement)) return;
  const answer = await fetch(place.dataset.from);
  if (!answer.ok) return;
  const text = await answer.text();
  if (place.dataset.text !== text) {
    place.dataset.text = text;
    place.innerHTML = text;
  }
}

function soon(id) {
  if (due.has(id)) return;
  due.set(id, setTimeout(() => {
    due.delete(id);
    refresh(id);
  }, pace));
}

const events = new EventSource(`${base}/events`);
events.addEventListener('arrival', () => soon('arrivals'));
events.addEventListener('farm', () => soon('farm'));
events.addEventListener('check', () => setTimeout(renew, pace));
addEventListener('pagehide', () => events.close());
