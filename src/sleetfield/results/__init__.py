"""What calculations return: frozen, printable, convertible to data frames, and with notes about what a careful colleague would say."""
