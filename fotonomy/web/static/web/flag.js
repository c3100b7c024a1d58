// First of all: that there are scripts, and how large the window is, so that the server can make
// the drawings for it.
window.fotonomy = window.fotonomy || {};
document.documentElement.classList.add("js");
fotonomy.sayScreen = () => {
  // A finger's browser hides and shows its bars: there the height is that of the whole screen.
  const touch = matchMedia("(pointer: coarse)").matches;
  const tall = touch ? window.screen.height : window.innerHeight;
  const said = `${window.innerWidth}x${tall}`;
  document.cookie = `screen=${said}; path=/; max-age=31536000; samesite=lax`;
  return said;
};
(() => {
  const now = fotonomy.sayScreen();
  // A page that was drawn for another window, since the last visit, is drawn again before it is seen.
  const drawn = document.documentElement.dataset.drawnFor;
  const kept = document.cookie.split("; ").includes(`screen=${now}`);
  if (drawn !== undefined && drawn !== now && kept) location.reload();
  let resting = 0;
  addEventListener("resize", () => {
    clearTimeout(resting);
    resting = setTimeout(fotonomy.sayScreen, 50);
  });
})();
