// before anything is drawn: the colours the person works in
if (localStorage.getItem("rhytonic.theme") === "night") document.documentElement.dataset.theme = "night";
