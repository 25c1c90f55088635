/** Changes to definitions by which rejected rows would fit. */
package dev.hapster.core.run.repair;
