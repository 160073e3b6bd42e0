"""The shop's own record: what its outcomes, clocks and codes add to what ships."""
