"""Tables from outside: CSV, XLSX and JSON files of any habit, read row by row in bounded memory."""
