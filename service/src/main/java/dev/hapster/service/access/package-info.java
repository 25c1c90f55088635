/** Who may call, and which folders may be read. */
package dev.hapster.service.access;
