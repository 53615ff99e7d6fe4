// The pass sheet's keys: arrows move, Space plans or takes out, Enter opens; dialogs and confirmations of the Plan station.
document.addEventListener('keydown', event => {
  const cell = event.target.closest('[data-cell]');
  if (!cell || event.ctrlKey || event.metaKey || event.altKey) return;
  const row = Number(cell.dataset.row), column = Number(cell.dataset.column);
  const steps = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] };
  let next = null;
  if (steps[event.key]) next = document.getElementById(`cell-${row + steps[event.key][0]}-${column + steps[event.key][1]}`);
  else if (event.key === 'Home') next = document.getElementById(`cell-${row}-0`);
  else if (event.key === 'End') next = [...document.querySelectorAll(`[data-cell][data-row="${row}"]`)].at(-1);
  else if (event.key === 'Enter') { event.preventDefault(); location.href = cell.dataset.href; return; }
  else return;
  event.preventDefault();
  if (next) {
    cell.tabIndex = -1;
    next.tabIndex = 0;
    next.focus();
  }
});

document.addEventListener('click', event => {
  const opens = event.target.closest('[data-opens]');
  if (opens) document.getElementById(opens.dataset.opens).showModal();
  event.target.closest('[data-closes]')?.closest('dialog').close();
  const asks = event.target.closest('[data-confirm]');
  if (asks && !confirm(asks.dataset.confirm)) event.preventDefault();
});
