"""Outlines and open loops closed with faces."""
