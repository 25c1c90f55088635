package dev.hapster.service.catalogue;

import dev.hapster.core.catalogue.Fingerprint;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.catalogue.Route;
import dev.hapster.core.definition.Handling.Routing;
import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.Id;
import jakarta.persistence.Lob;
import jakarta.persistence.SequenceGenerator;
import jakarta.persistence.Table;
import java.time.Instant;
import java.util.Arrays;
import java.util.stream.Collectors;

/** Something that is still to be done with a file. Paths below the workspace are kept relative to it. */
@Entity
@Table(name = "route")
class RouteRecord {
    @Id
    @GeneratedValue(generator = "record_seq")
    @SequenceGenerator(name = "record_seq", sequenceName = "record_seq", allocationSize = 100)
    Long id;

    @Column(name = "run_id")
    long run;

    int ordinal;
    String job;
    String file;
    String identity;

    @Enumerated(EnumType.STRING)
    Routing.Kind kind;

    String source;
    String target;

    @Column(name = "size_bytes")
    long size;

    @Column(name = "modified_at")
    Instant modified;

    @Column(name = "changed_at")
    Instant changed;

    String hash;
    String tag;

    @Enumerated(EnumType.STRING)
    Outcome outcome;

    @Column(name = "reasons_of")
    long reasonsOf;
    /** Numbers of arrivals, separated by spaces. */
    @Lob
    String arrivals;

    static RouteRecord of(Route route, Arrivals paths) {
        RouteRecord record = new RouteRecord();
        record.run = route.run();
        record.ordinal = route.ordinal();
        record.job = route.job();
        record.file = route.file();
        record.identity = route.identity();
        record.kind = route.kind();
        record.source = paths.inWorkspace(route.source());
        record.target = paths.inWorkspace(route.target());
        record.size = route.seen().size();
        record.modified = route.seen().modified();
        record.changed = route.seen().changed();
        record.hash = route.seen().hash();
        record.tag = route.seen().tag();
        record.outcome = route.outcome();
        record.reasonsOf = route.reasonsOf();
        record.arrivals = route.arrivals().stream().map(Object::toString).collect(Collectors.joining(" "));
        return record;
    }

    Route route(Arrivals paths) {
        return new Route(
                run,
                ordinal,
                job,
                file,
                identity,
                kind,
                paths.resolve(source),
                paths.resolve(target),
                new Fingerprint(size, modified, changed, tag, hash),
                outcome,
                reasonsOf,
                Arrays.stream(arrivals.split(" "))
                        .filter(number -> !number.isEmpty())
                        .map(Long::valueOf)
                        .toList());
    }
}
