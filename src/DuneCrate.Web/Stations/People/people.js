// A chosen role is sent at once; a link that is shown once is marked to be copied.
document.addEventListener('change', event => event.target.closest('[data-send-on-change]')?.requestSubmit());
document.querySelector('[data-select]')?.select();
