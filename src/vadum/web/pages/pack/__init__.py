"""What a device takes along to where there is no network."""
