"""The tabs, one package each; they never import one another."""
