"""The machine bench: what a model has besides box and axle."""
