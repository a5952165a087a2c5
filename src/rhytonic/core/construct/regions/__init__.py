"""Picked faces as regions, and regions lifted off."""
