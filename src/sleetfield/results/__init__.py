"""What calculations return: frozen, printable, convertible to data frames, and with notes."""
