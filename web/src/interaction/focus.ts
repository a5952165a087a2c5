/** The tray's value field; the view hands typed digits to it. */
let field: HTMLInputElement | null = null;
let view: HTMLElement | null = null;

export function registerValueField(input: HTMLInputElement | null): void {
  field = input;
}

export function registerView(canvas: HTMLElement | null): void {
  view = canvas;
}

/** Put the caret into the field with its text selected, so that the key being pressed replaces it. */
export function focusValueField(): void {
  field?.focus({ preventScroll: true });
  field?.select();
}

export function viewElement(): HTMLElement | null {
  return view;
}

/** The keys are the view's again after something that took its time; whoever types a value meanwhile goes on typing it. */
export function backToView(): void {
  if (field === null || document.activeElement !== field) focusView();
}

export function focusView(): void {
  view?.focus({ preventScroll: true });
}
