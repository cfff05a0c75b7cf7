"""What both plate tests share: the plate, the jack, the gauges."""
