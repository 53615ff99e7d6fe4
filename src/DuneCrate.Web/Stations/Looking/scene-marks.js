// Crosses where the render camera sees the shot's locators; they move with the picture and its frame.
const space = 'http://www.w3.org/2000/svg',
  arm = 7;

export class SceneMarks {
  constructor(view, acts) {
    Object.assign(this, { view, acts, marks: [], at: null });
    this.svg = document.getElementById('scene-marks');
    this.choice = document.getElementById('locators');
    this.choice?.addEventListener('change', () => this.draw());
  }

  async draw() {
    if (!this.choice) return;
    const frame = this.acts.at();
    if (this.choice.checked && this.at !== frame) {
      this.at = frame;
      const answer = await fetch(`${this.acts.shot}/scene-marks?frame=${frame}`).catch(() => null);
      this.marks = answer?.ok ? await answer.json() : [];
    }
    this.svg.replaceChildren();
    if (!this.choice.checked || !this.acts.isShown()) return;
    for (const { name, x, y } of this.marks) {
      const [left, top] = this.view.toCanvas(x, y),
        cross = document.createElementNS(space, 'path'),
        label = document.createElementNS(space, 'text');
      cross.setAttribute('d', `M${left - arm} ${top}H${left + arm}M${left} ${top - arm}V${top + arm}`);
      label.setAttribute('x', left + arm + 2);
      label.setAttribute('y', top - 3);
      label.textContent = name;
      this.svg.append(cross, label);
    }
  }
}
