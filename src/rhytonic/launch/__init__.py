"""What the launcher does once Python is there: system packages, the interface, a private database, the demo, the tests."""
