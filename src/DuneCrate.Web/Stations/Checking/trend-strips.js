// The strips over the frames follow the frame map: the same frames stand below each other.
function follow() {
  const map = document.getElementById('lanes')?.dataset;
  if (!map?.from) return;
  const [first, last, from, to] = [map.first, map.last, map.from, map.to].map(Number),
    at = frame => (1000 * (frame - first)) / (last + 1 - first);
  for (const strip of document.querySelectorAll('[data-trend]')) strip.setAttribute('viewBox', `${at(from)} 0 ${at(to) - at(from)} 44`);
  for (const axis of document.querySelectorAll('[data-trend-axis]'))
    [from, (from + to - 1) / 2, to - 1].forEach((frame, i) => {
      axis.children[i].textContent = Math.round(frame);
    });
}

document.addEventListener('map-span', follow);
document.addEventListener('htmx:afterSettle', follow);
follow();
