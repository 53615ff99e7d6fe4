// What lies over the picture and moves with it: a ring around the held pixel, the display window's edge where the pixels do not end there,
// and in words how large a pixel is.
export class Overlay {
  constructor(view) {
    this.view = view;
    for (const part of ['ring', 'frameline', 'place']) this[part] = document.getElementById(part);
  }

  // info: what is seen, or null while nothing is; held: the pixel that is held, or null.
  mark(info, held) {
    const { view, ring, frameline, place } = this,
      isShown = info && view.zoom;
    ring.hidden = !held || !isShown;
    frameline.hidden = !isShown || info.display.join() === info.data.join();
    place.textContent = isShown
      ? `${view.isFitted ? 'fit, ' : ''}${view.zoom >= 1 ? `${+view.zoom.toFixed(2)} ×` : `1 / ${+(1 / view.zoom).toFixed(2)}`}`
      : '';
    if (!isShown) return;
    if (held) {
      const [left, top] = view.toCanvas(held.x + 0.5, held.y + 0.5);
      Object.assign(ring.style, { left: `${left}px`, top: `${top}px` });
    }
    const [left, top] = view.toCanvas(info.display[0], info.display[1]);
    Object.assign(frameline.style, {
      left: `${left}px`,
      top: `${top}px`,
      width: `${(info.display[2] - info.display[0] + 1) * view.zoom}px`,
      height: `${(info.display[3] - info.display[1] + 1) * view.zoom}px`,
    });
  }
}
