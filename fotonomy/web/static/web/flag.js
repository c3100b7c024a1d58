// First of all: that there are scripts, and how large the window is, so that the server can make
// the drawings for it.
window.fotonomy = window.fotonomy || {};
document.documentElement.classList.add("js");
fotonomy.sayScreen = () => {
  // A finger's browser hides and shows its bars: there the height is that of the whole screen.
  const touch = matchMedia("(pointer: coarse)").matches;
  const tall = touch ? window.screen.height : window.innerHeight;
  const said = `screen=${window.innerWidth}x${tall}`;
  const known = document.cookie.split("; ").includes(said);
  if (!known) document.cookie = `${said}; path=/; max-age=31536000; samesite=lax`;
  return !known;
};
fotonomy.sayScreen();
