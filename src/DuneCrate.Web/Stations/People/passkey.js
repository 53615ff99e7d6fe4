// Passkeys by the browser's own interface (W3C Web Authentication Level 3): made on the account's page, used to sign in.
const problem = text => {
  const place = document.querySelector('[data-passkey-problem]');
  place.textContent = text;
  place.hidden = !text;
};

async function post(address, fields) {
  const body = new URLSearchParams({
    ...fields,
    __RequestVerificationToken: document.querySelector('[name=__RequestVerificationToken]').value,
  });
  return fetch(address, { method: 'POST', body });
}

async function make(button) {
  const options = await (await post('/account?handler=PasskeyOptions', {})).json();
  const credential = await navigator.credentials.create({ publicKey: PublicKeyCredential.parseCreationOptionsFromJSON(options) });
  const form = button.closest('form');
  form.elements.credential.value = JSON.stringify(credential);
  form.submit();
}

async function signIn() {
  const options = await (await post('/sign-in?handler=PasskeyOptions', {})).json();
  const credential = await navigator.credentials.get({ publicKey: PublicKeyCredential.parseRequestOptionsFromJSON(options) });
  const to = document.querySelector('[name=to]').value;
  const answer = await post('/sign-in?handler=Passkey', { credential: JSON.stringify(credential), to });
  if (answer.ok) location.assign(answer.url);
  else problem('That passkey is not known here. Sign in by password.');
}

const usable = window.PublicKeyCredential?.parseRequestOptionsFromJSON && isSecureContext && !/^[\d.:[\]]+$/.test(location.hostname);
for (const button of document.querySelectorAll('[data-passkey]')) {
  button.hidden = !usable;
  button.addEventListener('click', () => {
    problem('');
    (button.dataset.passkey === 'make' ? make(button) : signIn()).catch(e =>
      problem(e.name === 'NotAllowedError' ? 'Nothing was chosen.' : 'The browser could not use a passkey here.'),
    );
  });
}
