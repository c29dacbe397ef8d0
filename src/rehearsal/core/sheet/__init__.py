"""Size, crop, the print file and the ticket."""
