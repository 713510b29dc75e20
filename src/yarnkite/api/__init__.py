"""The web interface: FastAPI routers by step, errors as problem details (RFC 9457)."""
