"""On pages: the proof for whoever ordered, with every row as a true picture, and sheets and pieces in true size."""

from foliant.core.proof.pages import Page, proof_pages
from foliant.core.proof.paper import SIZES, Paper, paper_pages
from foliant.core.proof.writing import PROOFS, write_paper, write_proof, write_ticket

__all__ = [
    "PROOFS",
    "SIZES",
    "Page",
    "Paper",
    "paper_pages",
    "proof_pages",
    "write_paper",
    "write_proof",
    "write_ticket",
]
