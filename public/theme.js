// Before the first paint: the theme and the size of words that were chosen last, so that no white flash comes in the dark.
try {
  var chosen = localStorage.getItem('gutter-theme');
  if (chosen === 'loft' || (chosen !== 'daylight' && matchMedia('(prefers-color-scheme: dark)').matches)) document.documentElement.classList.add('loft');
  // The size of words that was chosen last, per cent of what the browser is set to.
  var text = localStorage.getItem('gutter-text');
  if (/^(125|150|200)$/.test(text)) document.documentElement.style.fontSize = text + '%';
} catch (e) {}
// What lies behind the first page is asked for at once where it is what was opened; the first page asks for it once it stands (src/features/jobs/useWorkAhead.ts).
var work = document.querySelector('meta[name="gutter-work"]');
if (work && location.pathname !== '/') {
  var link = document.createElement('link');
  link.rel = 'preload';
  link.as = 'script';
  link.href = work.content;
  document.head.appendChild(link);
}
