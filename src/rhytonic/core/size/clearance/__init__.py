"""How near bodies come, and what a movement meets."""
