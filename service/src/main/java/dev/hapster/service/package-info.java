/** The long-running service: what the core needs kept and asked for, over HTTP. */
package dev.hapster.service;
