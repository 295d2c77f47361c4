// Set the theme before the first paint.
var t = null;
try {
  t = localStorage.getItem("theme");
} catch (e) {
  t = null;
}
document.documentElement.dataset.theme = t || (matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light");
