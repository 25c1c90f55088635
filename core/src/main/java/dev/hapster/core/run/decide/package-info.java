/**
 * What is to be done with each file that was found: load, skip, wait or reject. Nothing is read here but what tells
 * whether it has changed.
 */
package dev.hapster.core.run.decide;
