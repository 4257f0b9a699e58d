"""The benches, one package each; they never import one another."""
