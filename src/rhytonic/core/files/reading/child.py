"""What reads a foreign file in a process of its own: ``python -m rhytonic.core.files.reading.child``.

It is started, imports what readers need and waits. What it is handed is a line of JSON that says how to read and within
what limits, then the file; what it answers is a letter and what was read, or the sentence of a refusal. Then it ends.
"""

from __future__ import annotations

import json
import resource
import sys

from ..limits import BadModel
from ..packed import pack_drawing, pack_model
from ..read import read_drawing, read_model

#: letters an answer begins with: what was read, a refusal, too little memory
READ, REFUSED, NO_ROOM = b"R", b"E", b"M"


def main() -> None:
    """Read one file."""
    stream = sys.stdin.buffer
    told = json.loads(stream.readline(4096))
    data = stream.read(told["bytes"])
    if len(data) != told["bytes"]:
        return  # whoever asked went away
    with open("/proc/self/statm") as file:
        held = int(file.read().split()[0]) * resource.getpagesize()
    resource.setrlimit(resource.RLIMIT_AS, (held + told["memory"],) * 2)
    used = resource.getrusage(resource.RUSAGE_SELF)
    seconds = int(told["seconds"] + used.ru_utime + used.ru_stime) + 1  # limits are whole seconds
    resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds + 1))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))
    try:
        answer = READ + (pack_model(read_model(data)) if told["what"] == "model" else
                         pack_drawing(read_drawing(data, told["name"], told.get("unit"))))
    except BadModel as error:
        answer = REFUSED + error.message.encode()
    except (MemoryError, RecursionError):
        answer = NO_ROOM
    except Exception as error:  # whatever a broken file makes of a library, it is a broken file
        print(f"{type(error).__name__}: {error}", file=sys.stderr)
        answer = REFUSED + b"the file cannot be read: something in it is not as its format has it"
    sys.stdout.buffer.write(answer)
    sys.stdout.buffer.flush()


if __name__ == "__main__":
    main()
