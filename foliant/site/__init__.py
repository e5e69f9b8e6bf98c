"""The site: settings, addresses and the WSGI application."""
