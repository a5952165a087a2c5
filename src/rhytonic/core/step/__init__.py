"""What every step kind stands on: a plan from connectivity, positions from numbers."""
