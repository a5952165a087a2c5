"""Sizes of a build: measured where they are, judged against what is wanted, and driven there."""
