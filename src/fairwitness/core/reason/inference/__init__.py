"""From evidence to chances: hypotheses, the condition each puts a cylinder in, likelihood, posterior."""
