"""The driveline strip."""
