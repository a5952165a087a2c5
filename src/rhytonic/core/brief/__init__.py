"""What a build must match, as its document holds it: boards, guides, sizes, and the unit they are shown in."""
