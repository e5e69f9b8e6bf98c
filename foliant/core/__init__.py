"""The rules of the job and all its computation: plain Python, no web framework.

Inside the core every length is in millimetres, every angle in degrees, every speed in mm/s and every
time in seconds. Coordinates run right and *down*, like a page; `machine` turns them over for the bed.
"""
