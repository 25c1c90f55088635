/**
 * Files and folders that others can change at any moment: opened once, by what they are and not by what their names
 * lead to, and written so that nothing that is there is ever overwritten.
 */
package dev.hapster.core.disk;
