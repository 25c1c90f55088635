package dev.hapster.core.run.load;

import dev.hapster.core.catalogue.Catalogue;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.run.open.Opener;
import dev.hapster.core.run.routing.Router;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.reject.RejectStore;
import java.time.Clock;
import java.util.Set;
import java.util.concurrent.ExecutorService;
import java.util.function.UnaryOperator;

/**
 * What every run of a service shares.
 *
 * @param opener opens the files that are taken
 * @param workers on which files are read, one a core
 * @param committers on which results wait for the disk
 * @param watched gets every reader before its rows are taken
 * @param desks names of those desks on which something is in work; safe for several threads
 */
public record RunServices(
        Opener opener,
        PartStore parts,
        RejectStore rejects,
        Catalogue catalogue,
        Router router,
        ExecutorService workers,
        ExecutorService committers,
        Clock clock,
        UnaryOperator<RecordReader> watched,
        Set<String> desks) {}
