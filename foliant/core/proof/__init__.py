"""The proof: pages for whoever ordered, with every row as a true picture, before anything is burnt."""

from foliant.core.proof.pages import Page, proof_pages
from foliant.core.proof.writing import PROOFS, write_proof

__all__ = ["PROOFS", "Page", "proof_pages", "write_proof"]
