/** Calls that look at folders and files before anything is loaded, and write definitions. */
package dev.hapster.service.api.prepare;
