"""The program: everything a machine will do, in order. Estimates, rehearsals and writers all read it."""

from foliant.core.program.program import Block, Program, ProgramBuilder, Stretch
from foliant.core.program.strand import Strand
from foliant.core.program.toolpath import Toolpath

__all__ = ["Block", "Program", "ProgramBuilder", "Strand", "Stretch", "Toolpath"]
