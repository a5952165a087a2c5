// Put into every page of the tests: when a page has come to rest, told in place of sleeping for as long as that might take.
(() => {
  const ask = window.fetch;
  let asked = 0;
  window.fetch = (...told) => {
    asked += 1;
    return ask(...told).finally(() => { asked -= 1; });
  };
  const next = (look) => document.hidden ? setTimeout(look, 30) : requestAnimationFrame(() => setTimeout(look, 12));
  const drawn = () => performance.getEntriesByName("rhytonic:drawn").at(-1)?.startTime;
  const moves = () => document.getAnimations().some((a) => a.playState === "running" && a.effect.getTiming().iterations !== Infinity);

  /** Until so many frames on end nothing was asked of the server, drawn, moved or changed on the page; tells what did not rest. */
  window.rest = (frames, patience) => new Promise((told) => {
    const end = performance.now() + patience;
    let changed = true, last, still = 0;
    const watch = new MutationObserver(() => { changed = true; });
    watch.observe(document, { subtree: true, childList: true, attributes: true, characterData: true });
    const look = () => {
      const why = asked > 0 ? "the server is asked" : changed ? "the page changes" : drawn() !== last ? "views are drawn" : moves() ? "something moves" : "";
      changed = false;
      last = drawn();
      still = why === "" ? still + 1 : 0;
      if (still < frames && performance.now() < end) return next(look);
      watch.disconnect();
      told(still < frames ? why : "");
    };
    next(look);
  });
})();
