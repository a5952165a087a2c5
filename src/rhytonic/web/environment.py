"""What a server is told in its environment, and what its processes tell each other there."""

import threading

#: further names it answers to, by commas
HOSTS = "RHYTONIC_HOSTS"
#: bytes that may be kept warm in all its processes together: a number, or one with K, M or G behind it
MEMORY = "RHYTONIC_MEMORY"
#: how many processes there are, and which of them one is
WORKERS, NUMBER = "RHYTONIC_WORKERS", "RHYTONIC_WORKER"
#: bytes of the largest file that is taken in, and of any other request
LARGEST_UPLOAD, LARGEST_REQUEST = 100 * 1024 * 1024, 32 * 1024 * 1024
#: set by the command that writes the OpenAPI document; a server hands out the file it wrote
DESCRIBE = "RHYTONIC_DESCRIBE"
#: set in a process once it is told to stop
STOPPING = threading.Event()
