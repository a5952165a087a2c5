"""What several step kinds put their results together with; knows no step kind."""
