// Before the first paint: the theme that was chosen last, so that no white flash comes in the dark.
try {
  var chosen = localStorage.getItem('gutter-theme');
  if (chosen === 'loft' || (chosen !== 'daylight' && matchMedia('(prefers-color-scheme: dark)').matches)) document.documentElement.classList.add('loft');
} catch (e) {}
