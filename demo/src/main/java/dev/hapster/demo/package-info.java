/** The demo: the river Vessa and its laboratories, all made up, from a fixed seed. */
package dev.hapster.demo;
