"""What is read and written: quantities with their units. Nothing numeric imports this."""
