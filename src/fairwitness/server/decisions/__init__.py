"""What the owner decided: written down with who, how, to what, up to how much, and a signature."""
