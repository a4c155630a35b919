"""What the shop has, as frozen values: machines and their slots, bars, cutters, studs, measuring tools."""
