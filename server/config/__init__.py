"""Settings, addresses, middleware."""
