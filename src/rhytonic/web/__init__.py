"""The HTTP API and the shipped interface. One blueprint per resource."""
