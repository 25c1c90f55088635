/**
 * Small stand-ins for machines of others, for the demo: an SFTP server and an object store, which keep what they have
 * in folders of the demo's workspace, and speak with this machine alone.
 */
package dev.hapster.demo.elsewhere;
