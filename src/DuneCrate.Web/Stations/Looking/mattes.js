// Mattes of a Cryptomatte by name: a list with coverage, and the one under a pixel that is pointed at.
const shot = document.querySelector('.shot');
const field = document.getElementById('named');

const ask = async query => {
  const answer = await fetch(`${shot.dataset.shot}/mattes?${query}`).catch(() => null);
  return answer?.ok ? answer.json().catch(() => []) : [];
};

// Fills the list for a frame; what is chosen stays.
export async function offerMattes(query, wanted) {
  if (!field) return;
  const before = field.value || wanted || '',
    mattes = await ask(query);
  field.length = 1;
  for (const matte of mattes) field.add(new Option(`${matte.name}, ${(100 * matte.share).toFixed(2)} %`, matte.name));
  if (before && ![...field.options].some(option => option.value === before)) field.add(new Option(`${before}, not in this frame`, before));
  field.value = before;
}

// Chooses what covers most of a pixel.
export async function pickMatte(query, x, y) {
  if (!field) return;
  query.set('x', x);
  query.set('y', y);
  const [first] = await ask(query);
  field.value = first?.name ?? '';
  field.dispatchEvent(new Event('input', { bubbles: true }));
}
