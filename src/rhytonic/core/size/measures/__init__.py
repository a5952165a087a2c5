"""What each kind of size measures, one file for each."""
