"""What leaves the program: parts, tables, sheets."""
