"""From the vehicle to its drivetrain graph, and what arrives at the wheels."""
