"""Live steps: kept below the working mark, one file per kind."""
