"""The drivetrain graph, its assembly from the document, and the one solver of all speeds."""
