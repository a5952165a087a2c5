"""Builds, their change log and pictures, in PostgreSQL."""
