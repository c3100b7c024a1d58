"""Settings, root urls, base templates and what the browser is sent."""
