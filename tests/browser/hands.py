"""A person's hands, counted: every click, drag, key and typed value is one action."""

import re


class Hands:
    """Acts at an editor and counts."""

    def __init__(self, editor):
        self.editor, self.page = editor, editor.page
        self.count = 0

    def _rest(self):
        self.editor.rest()
        self.count += 1

    def key(self, name):
        """A key over whatever has focus; nobody puts the focus anywhere but by clicking."""
        self.page.keyboard.press(name)
        self._rest()

    def type(self, text):
        self.page.keyboard.type(str(text))
        self._rest()

    def press(self, what):
        """A click on something of the interface."""
        what.click()
        self._rest()

    def button(self, name, **more):
        self.press(self.page.get_by_role("button", name=name, **more))

    def _held(self, modifiers, deed):
        for key in modifiers:
            self.page.keyboard.down(key)
        deed()
        for key in modifiers:
            self.page.keyboard.up(key)
        self._rest()

    def at(self, *point, view=None):
        return self.editor.at(*point, view=view)

    def click(self, *point, with_=(), view=None):
        x, y = self.at(*point, view=view)
        self.page.mouse.move(x, y)
        self.editor.rest(2)
        self._held(with_, lambda: self.page.mouse.click(x, y))

    def double(self, *point, with_=(), view=None):
        x, y = self.at(*point, view=view)
        self.page.mouse.move(x, y)
        self.editor.rest(2)
        self._held(with_, lambda: self.page.mouse.dblclick(x, y))

    def box(self, a, b, with_=(), view=None):
        """A drag from one place of a view to another."""
        start, end = self.at(*a, view=view), self.at(*b, view=view)
        self._held(with_, lambda: self.editor.drag(start, (end[0] - start[0], end[1] - start[1])))

    def find(self, name):
        """A tool by its name: three actions."""
        self.key("Control+k")
        self.type(name)
        self.key("Enter")

    def tool(self, key, *values):
        """A tool by its key with its numbers, one field after the other, stored."""
        self.key(key)
        self.typed(*values)

    def typed(self, *values):
        for i, value in enumerate(values):
            if i:
                self.key("Tab")
            self.type(value)
        self.key("Enter")

    def new_build(self, name):
        self.page.goto("/")
        self.button("New build")
        self.type(name)
        self.key("Enter")
        self.page.wait_for_url(re.compile("/build/"))
        self.page.wait_for_function("() => window.rhytonic !== undefined")
        self.editor.rest()

    def fields(self, **values):
        """Fields of the start form, by their names."""
        form = self.page.locator(".start")
        for label, value in values.items():
            self.press(form.get_by_label(label.replace("_", " "), exact=True))
            self.type(value)
