"""The vehicle in motion: what drags, what it pulls, test drives."""
