"""What is wrong or worth knowing: findings, and the catalogue of their codes."""
