// Sets the theme before the first paint; runs as a plain script in the head.
(() => {
  const known = localStorage.getItem('theme');
  document.documentElement.dataset.theme = known ?? (matchMedia('(prefers-color-scheme: dark)').matches ? 'dusk' : 'light');
})();
