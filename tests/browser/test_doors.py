"""A page of another origin changes nothing; what takes long is asked for."""

import contextlib
import gzip
import http.server
import re
import threading
import urllib.request

from playwright.sync_api import expect

from tests.browser.conftest import post

PAGE = b"""<!doctype html><title>Prices</title><script>
window.done = (async () => {
  const at = new URLSearchParams(location.search), server = at.get("server"), build = at.get("build");
  const tries = [
    fetch(`${server}/api/builds/${build}/duplicate`, { method: "POST", mode: "no-cors" }),
    fetch(`${server}/api/builds/${build}`, { method: "DELETE" }),
    fetch(`${server}/api/pictures`, { method: "POST", mode: "no-cors", body: "x" }),
    fetch(`${server}/api/builds`, { method: "POST", headers: { "X-Rhytonic": "1", "Content-Type": "application/json" }, body: '{"name": "Foreign"}' }),
    fetch(`${server}/api/builds`).then((r) => r.text()),
  ];
  const told = await Promise.allSettled(tries);
  const form = Object.assign(document.createElement("form"), { method: "post", action: `${server}/api/builds/${build}/duplicate`, target: "frame" });
  document.body.append(Object.assign(document.createElement("iframe"), { name: "frame" }), form);
  form.submit();
  await new Promise((r) => setTimeout(r, 700));
  return told.map((t) => t.status === "fulfilled" ? String(t.value?.type ?? t.value) : "refused");
})();
</script><body>"""


class Foreign(http.server.BaseHTTPRequestHandler):
    def do_GET(self):
        self.send_response(200)
        self.send_header("Content-Type", "text/html")
        self.end_headers()
        self.wfile.write(PAGE)

    def log_message(self, *told):
        pass


@contextlib.contextmanager
def foreign_page():
    server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), Foreign)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_port}"
    server.shutdown()


def builds(server):
    with urllib.request.urlopen(f"{server}/api/builds") as answer:
        return answer.read()


def test_a_page_of_another_origin_changes_nothing_and_reads_nothing(chromium, server):
    build = post(server, "/api/builds", {"name": "Dinghy"})
    before = builds(server)
    context = chromium.new_context()
    with foreign_page() as foreign:
        for name in (server, server.replace("127.0.0.1", "localhost")):
            page = context.new_page()
            page.goto(f"{foreign}/?server={name}&build={build['id']}")
            told = page.evaluate("() => window.done")
            assert told[4] == "refused" and told[3] == "refused" and told[1] == "refused"  # nor is anything of it read
    assert builds(server) == before
    context.close()


def test_what_takes_long_is_asked_for_before_it_is_done(editor, page):
    editor.make({"id": "body", "kind": "box", "size": [10, 10, 10], "segments": [40, 40, 40]},
                {"id": "row", "kind": "array", "count": 2, "step": [12, 0, 0]})
    card = editor.step("row")
    card.locator(".title").click()
    card.get_by_label("count").fill("70")
    card.get_by_label("count").press("Enter")
    dialog = page.get_by_role("dialog", name="This takes a while")
    expect(dialog).to_contain_text("672 000 faces")
    page.keyboard.press("Escape")
    expect(dialog).to_be_hidden()
    assert editor.steps()[1]["count"] == 2
    expect(editor.view).to_be_focused()


def test_scripts_and_styles_travel_small_and_are_kept(server):
    page = urllib.request.urlopen(server).read().decode()
    first = re.findall(r'(?:src|href)="(/assets/[^"]+\.js)"', page)
    assert first
    told = "".join(urllib.request.urlopen(server + name).read().decode() for name in first)
    large = {f"/{name}" for name in re.findall(r'assets/(?:main|EditorPage)-[^"]+?\.(?:js|css)', told)}
    assert {name.rsplit(".", 1)[1] for name in large} == {"js", "css"}
    for kind in large:
        sent = {}
        for coding in ("identity", "gzip"):
            with urllib.request.urlopen(urllib.request.Request(server + kind, headers={"Accept-Encoding": coding})) as answer:
                sent[coding] = answer.read()
                assert "max-age=31536000" in answer.headers["Cache-Control"], kind
        assert gzip.decompress(sent["gzip"]) == sent["identity"] and len(sent["gzip"]) < len(sent["identity"]) / 2
