"""The picture in space on the screen."""
