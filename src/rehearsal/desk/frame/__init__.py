"""What every station lives in: running order, rack, verdict, window, keys."""
