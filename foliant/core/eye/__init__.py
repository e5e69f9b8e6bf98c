"""The eye: a camera over the bed, its lens, and what lies there.

It knows pictures and numbers only: `machine` says where pictures come from, `program` what becomes of a place.
"""
