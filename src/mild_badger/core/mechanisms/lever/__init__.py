"""A stepless lever drive."""
