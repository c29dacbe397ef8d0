"""Makes and opens the demo: scene pictures, papers, printers and workbook."""
