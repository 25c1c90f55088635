/** How the client speaks to the service, and starts one of its own. */
package dev.hapster.cli.http;
