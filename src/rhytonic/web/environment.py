"""What a server is told in its environment, and what its processes tell each other there."""

import threading

#: further names it answers to, by commas
HOSTS = "RHYTONIC_HOSTS"
#: bytes that may be kept warm in all its processes together: a number, or one with K, M or G behind it
MEMORY = "RHYTONIC_MEMORY"
#: how many processes there are, the folder in which they meet, and which of them one is
WORKERS, MEETING, NUMBER = "RHYTONIC_WORKERS", "RHYTONIC_MEETING", "RHYTONIC_WORKER"
#: set by the command that writes the OpenAPI document; a server hands out the file it wrote
DESCRIBE = "RHYTONIC_DESCRIBE"
#: set in a process once it is told to stop
STOPPING = threading.Event()
