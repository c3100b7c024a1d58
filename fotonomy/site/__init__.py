"""What stands on top: root urls, accounts and their pages, settings, the server."""
