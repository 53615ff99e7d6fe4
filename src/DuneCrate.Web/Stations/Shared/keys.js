// Shortcuts of a single letter or sign can be switched off (WCAG 2.2, success criterion 2.1.4): they get in the way of speech input.
const kept = 'single-keys';

export function singleKeysAreOn() {
  return localStorage.getItem(kept) !== 'off';
}

// Whether a key pressed now is a shortcut and no text for a field.
export function isShortcut(event) {
  if (event.ctrlKey || event.metaKey || event.altKey) return false;
  if (event.target.closest('input:not([type=range]), textarea, select, [contenteditable]')) return false;
  return event.key.length > 1 || singleKeysAreOn();
}

const box = document.getElementById('single-keys');
if (box) {
  box.checked = singleKeysAreOn();
  box.addEventListener('change', () => localStorage.setItem(kept, box.checked ? 'on' : 'off'));
}
