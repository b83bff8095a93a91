// Before the first paint: the theme that was chosen last, so that no white flash comes in the dark.
try {
  var chosen = localStorage.getItem('gutter-theme');
  if (chosen === 'loft' || (chosen !== 'daylight' && matchMedia('(prefers-color-scheme: dark)').matches)) document.documentElement.classList.add('loft');
} catch (e) {}
// What lies behind the first page is asked for at once where it is what was opened; from the first page it is fetched when nothing else is to be done.
var work = document.querySelector('meta[name="gutter-work"]');
var askFor = function (rel) {
  var link = document.createElement('link');
  link.rel = rel;
  link.as = 'script';
  link.href = work.content;
  document.head.appendChild(link);
};
if (work && location.pathname !== '/') askFor('preload');
else if (work) addEventListener('load', function () {
  var idle = window.requestIdleCallback || setTimeout;
  idle(function () { askFor('prefetch'); }, { timeout: 4000 });
});
