"""The Django app: what is stored, what makers may do with it, and the pages they do it in."""
