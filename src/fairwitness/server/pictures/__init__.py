"""Pictures and sounds kept as evidence: checked by their content, stripped, and marked without touching them."""
