"""Making profiles: charts, and fitting a profile to the readings of one."""
