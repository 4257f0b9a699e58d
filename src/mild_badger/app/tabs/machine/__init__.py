"""The tab Machine: what a model has besides box and axle."""
