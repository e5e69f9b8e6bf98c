"""Foliant: design, lay out, check and run flat personalised pieces on a laser or a blade cutter."""
