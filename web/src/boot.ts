// a few bytes of its own: what stands in the page is drawn before scripts and styles have come
void import("./main");

export {};
