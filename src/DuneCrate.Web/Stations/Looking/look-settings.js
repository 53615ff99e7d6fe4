// How pictures are shown, as the fields of the page say it.
export class LookSettings {
  // wanted: the address that the page was opened with.
  constructor(wanted) {
    this.fields = [...document.querySelectorAll('[data-look]')];
    for (const field of this.fields) {
      const value = wanted.get(field.name);
      if (value === null) continue;
      if (field.type === 'checkbox') field.checked = value === 'on';
      else field.value = value;
    }
  }

  // The settings that differ from what a picture usually has.
  values() {
    const found = {};
    for (const field of this.fields) {
      const value = field.type === 'checkbox' ? (field.checked ? 'on' : '') : field.value.trim();
      if (value !== '' && value !== field.dataset.usual) found[field.name] = value;
    }
    return found;
  }

  // The same with what data is shown between.
  shown(info) {
    const found = this.values();
    for (const name of ['near', 'far'])
      if (found[name] === undefined && info?.[name] !== null && info?.[name] !== undefined) found[name] = info[name];
    return found;
  }
}
