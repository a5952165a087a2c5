"""Health is answered while files are read that grow."""

import threading
import time

from tests.outside.test_attacks import FILES


def test_health_is_answered_while_files_are_read(app):
    """In the very process that takes them in."""
    client = app.test_client()
    client.environ_base["HTTP_X_RHYTONIC"] = "test"
    waits = []

    def send(what):
        name, data = FILES[what]
        sender = app.test_client()
        sender.environ_base["HTTP_X_RHYTONIC"] = "test"
        where = f"/api/models/drawing?name={name}" if name.endswith((".svg", ".dxf")) else f"/api/models?name={name}"
        answer = sender.post(where, data=data, content_type="application/octet-stream")
        assert answer.status_code in (200, 201, 413, 422), answer.get_data(as_text=True)[:200]

    senders = [threading.Thread(target=send, args=(w,)) for w in ("a path of many pieces", "one line after the other", "copies of copies", "empty lines")]
    for s in senders:
        s.start()
    while any(s.is_alive() for s in senders):
        before = time.monotonic()
        assert client.get("/api/health").status_code == 200
        waits.append(time.monotonic() - before)
        time.sleep(0.05)
    assert sorted(waits)[len(waits) // 2] < 0.5  # the middle one: a machine that does other things besides may hold up one
