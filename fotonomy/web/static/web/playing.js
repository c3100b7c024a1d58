// Run, stop and scrub a drawing that SVG itself animates. Nothing moves until asked to; who
// prefers less motion gets the scrubber alone.
(() => {
  const CALM = matchMedia("(prefers-reduced-motion: reduce)");

  function setUp(box) {
    const svg = box.querySelector(".playing svg");
    const run = box.querySelector("[data-run]");
    const scrub = box.querySelector("[data-scrub]");
    const clock = box.querySelector("[data-clock]");
    if (!svg || box.dataset.ready) return;
    box.dataset.ready = "1";
    let running = false;
    svg.pauseAnimations();
    svg.setCurrentTime(Number(scrub.value));
    run.hidden = CALM.matches;

    const show = () => {
      clock.textContent = `${Number(scrub.value).toFixed(2)} s`;
    };
    const follow = () => {
      if (!running || !svg.isConnected) return;
      scrub.value = svg.getCurrentTime() % Number(scrub.max);
      show();
      requestAnimationFrame(follow);
    };
    const stop = () => {
      running = false;
      svg.pauseAnimations();
      run.textContent = "Play";
    };
    run.addEventListener("click", () => {
      if (running) return stop();
      running = true;
      run.textContent = "Stop";
      svg.setCurrentTime(Number(scrub.value));
      svg.unpauseAnimations();
      follow();
    });
    scrub.addEventListener("input", () => {
      stop();
      svg.setCurrentTime(Number(scrub.value));
      show();
    });
  }

  window.fotonomy = window.fotonomy || {};
  fotonomy.setUpPlaying = () => document.querySelectorAll(".play").forEach(setUp);
  document.addEventListener("DOMContentLoaded", fotonomy.setUpPlaying);
})();
