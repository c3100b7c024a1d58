"""Settings: base is safe for the open net; demo and testing loosen it for one machine."""
