"""What leaves the program: tables, the sheet and the report, all made from one evaluation."""
