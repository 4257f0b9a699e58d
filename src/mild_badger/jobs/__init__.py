"""Background work: the jobs there are, how they pass to a process of their own, that process."""
