// Loads the page anew when the server has more to show. Never over a link that was just followed, nor over what somebody is
// typing: it waits for those.
const patience = 10000,
  typingPatience = 1000;
let left = -patience,
  waiting = 0;

addEventListener('beforeunload', () => {
  left = performance.now();
});
addEventListener('pageshow', () => {
  left = -patience;
});

function isHalfTyped(field) {
  return field?.matches('input:not([type=hidden], [type=checkbox], [type=radio]), textarea') && field.value !== field.defaultValue;
}

export function renew() {
  clearTimeout(waiting);
  const leaving = left + patience - performance.now();
  if (leaving > 0) waiting = setTimeout(renew, leaving);
  else if (isHalfTyped(document.activeElement)) waiting = setTimeout(renew, typingPatience);
  else location.reload();
}

document.addEventListener('renew', renew);
