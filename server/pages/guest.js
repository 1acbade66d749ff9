// Puts pins on pictures: where they are touched, or by arrow keys. Without this the page works by its form alone.
const form = document.getElementById('say');
const set = (name, value) => {
  form.elements[name].value = value;
};
let pin = null;

function place(board, x, y) {
  const at = { x: Math.min(1, Math.max(0, x)), y: Math.min(1, Math.max(0, y)) };
  if (!pin) {
    pin = document.createElement('span');
    pin.className = 'pin new';
  }
  board.append(pin);
  pin.style.left = `${at.x * 100}%`;
  pin.style.top = `${at.y * 100}%`;
  pin.dataset.x = at.x;
  pin.dataset.y = at.y;
  set('picture', board.dataset.picture);
  set('alternative', board.dataset.alternative);
  set('x', at.x.toFixed(4));
  set('y', at.y.toFixed(4));
  const picked = form.querySelector(`input[name=alternative][value="${board.dataset.alternative}"]`);
  if (picked) picked.checked = true;
  document.getElementById('about').textContent =
    `About the place you marked on ${board.dataset.name}. Write below what you see there.`;
  document.getElementById('unpin').hidden = false;
}

for (const board of document.querySelectorAll('.board')) {
  board.addEventListener('click', (event) => {
    const box = board.getBoundingClientRect();
    // A click by key has no place: the middle, until arrows move it.
    if (event.detail === 0) place(board, 0.5, 0.5);
    else place(board, (event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height);
  });
  board.addEventListener('keydown', (event) => {
    const by = { ArrowLeft: [-0.02, 0], ArrowRight: [0.02, 0], ArrowUp: [0, -0.02], ArrowDown: [0, 0.02] }[event.key];
    if (!by || !pin || pin.parentElement !== board) return;
    event.preventDefault();
    place(board, Number(pin.dataset.x) + by[0], Number(pin.dataset.y) + by[1]);
  });
}
document.getElementById('unpin')?.addEventListener('click', () => {
  pin?.remove();
  pin = null;
  for (const name of ['picture', 'x', 'y']) set(name, '');
  document.getElementById('about').textContent = '';
  document.getElementById('unpin').hidden = true;
});
// One press is one message.
form?.addEventListener('submit', (event) => {
  if (form.dataset.sent) event.preventDefault();
  form.dataset.sent = 'yes';
});
