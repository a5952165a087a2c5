"""Readers, one file a format: small ones of ours, since what they must refuse matters as much as what they take."""
