// a few bytes of its own: what stands in the page is drawn before scripts and styles have come
import("./main").catch(() => {
  const told = document.querySelector(".before p");
  if (told !== null) told.textContent = "Rhytonic could not be fetched. Load the page again once the server is back.";
});

export {};
