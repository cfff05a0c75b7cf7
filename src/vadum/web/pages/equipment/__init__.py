"""The equipment of the laboratory."""
