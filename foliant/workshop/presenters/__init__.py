"""Presenters: from what the core computed to what the page shows, as plain JSON. No rules here."""
