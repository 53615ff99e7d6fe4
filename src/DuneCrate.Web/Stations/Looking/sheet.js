// Saves a sheet as one picture: every small picture that has come, with its label, in the order of the page.
const gap = 12,
  line = 18,
  across = 1600;

for (const image of document.querySelectorAll('.sheet-pictures img'))
  image.addEventListener('error', () => {
    image.style.visibility = 'hidden';
  });

document.getElementById('sheet-save')?.addEventListener('click', async event => {
  const { name, title } = event.currentTarget.dataset,
    cells = [...document.querySelectorAll('.sheet-pictures li')];
  for (const image of document.querySelectorAll('.sheet-pictures img')) image.loading = 'eager';
  await Promise.all(
    cells.map(cell =>
      cell
        .querySelector('img')
        .decode()
        .catch(() => null),
    ),
  );
  const first = cells[0]?.querySelector('img');
  if (!first) return;
  const [wide, high] = [Number(first.getAttribute('width')), Number(first.getAttribute('height'))],
    columns = Math.max(1, Math.min(cells.length, Math.floor(across / (wide + gap)))),
    rows = Math.ceil(cells.length / columns),
    canvas = document.createElement('canvas');
  canvas.width = columns * (wide + gap) + gap;
  canvas.height = rows * (high + line + gap) + 2 * gap + line;
  const brush = canvas.getContext('2d');
  brush.fillStyle = '#fff';
  brush.fillRect(0, 0, canvas.width, canvas.height);
  brush.fillStyle = '#222';
  brush.font = '600 13px Archivo, sans-serif';
  brush.fillText(title, gap, gap + 12);
  brush.font = '12px Archivo, sans-serif';
  cells.forEach((cell, i) => {
    const x = gap + (i % columns) * (wide + gap),
      y = 2 * gap + line + Math.floor(i / columns) * (high + line + gap),
      image = cell.querySelector('img');
    brush.fillStyle = '#777';
    brush.fillRect(x, y, wide, high);
    if (image.naturalWidth) brush.drawImage(image, x, y, wide, high);
    brush.fillStyle = '#222';
    brush.fillText(cell.querySelector('.under').textContent.trim().replace(/\s+/g, ' '), x, y + high + 13, wide);
  });
  const link = document.createElement('a');
  link.href = URL.createObjectURL(await new Promise(done => canvas.toBlob(done, 'image/png')));
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
});
