/** Workbooks, old and new, as grids of cells. */
package dev.hapster.core.read.workbook;
