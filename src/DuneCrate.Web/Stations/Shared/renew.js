// Loads the page anew when the server has more to show. Never over a link that was just followed, nor over what somebody is
// typing: it waits for those.
const patience = 10000,
  typingPatience = 1000;
let left = -patience,
  waiting = 0,
  isAround = false;

addEventListener('beforeunload', () => {
  left = performance.now();
});
addEventListener('pageshow', () => {
  left = -patience;
});

function isHalfTyped(field) {
  return field?.matches('input:not([type=hidden], [type=checkbox], [type=radio]), textarea') && field.value !== field.defaultValue;
}

// Parts that are put in beside a field in use; the page as a whole follows when the field is left.
const parts = ['#strip', '#ladder', '#work', '#arrivals'];

async function renewAround(field) {
  const answer = await fetch(location.href).catch(() => null);
  if (!answer?.ok) return;
  const anew = new DOMParser().parseFromString(await answer.text(), 'text/html');
  for (const part of parts) {
    const old = document.querySelector(part),
      next = anew.querySelector(part);
    if (!old || !next || old.contains(field) || old.innerHTML === next.innerHTML) continue;
    old.replaceWith(document.adoptNode(next));
    window.htmx?.process(document.querySelector(part));
  }
}

export function renew() {
  clearTimeout(waiting);
  const leaving = left + patience - performance.now();
  if (leaving > 0) waiting = setTimeout(renew, leaving);
  else if (isHalfTyped(document.activeElement)) {
    if (!isAround) renewAround(document.activeElement);
    isAround = true;
    waiting = setTimeout(renew, typingPatience);
  } else location.reload();
}

document.addEventListener('renew', renew);
