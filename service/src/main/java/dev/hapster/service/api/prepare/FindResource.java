package dev.hapster.service.api.prepare;

import com.fasterxml.jackson.annotation.JsonInclude;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.definition.FindRule;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.Values;
import dev.hapster.core.definition.edit.JobEdit;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.find.FilesNamed;
import dev.hapster.core.find.Finding;
import dev.hapster.core.find.Roots;
import dev.hapster.core.find.RuleCounts;
import dev.hapster.core.read.preview.Peek;
import dev.hapster.core.run.Runner;
import dev.hapster.core.run.inspect.FilePeeks;
import dev.hapster.core.workspace.Sources;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.api.call.ValueParameters;
import dev.hapster.service.catalogue.StoredCatalogue;
import dev.hapster.service.runs.Previews;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.BadRequestException;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.NotFoundException;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.LongSummaryStatistics;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Predicate;
import java.util.stream.Stream;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;
import org.jboss.resteasy.reactive.RestQuery;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Which files a job takes, as it is saved and as somebody is writing it. */
@Path("/api/v1/jobs/{job}")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "jobs")
@Blocking
public class FindResource {

    private static final Logger LOG = LoggerFactory.getLogger(FindResource.class);
    private static final int MOST_FILES = 1000;
    /** Of so many files the system is asked when they were created, only to say what the earliest and latest are. */
    private static final int MOST_ASKED = 10_000;

    private final Workspace workspace;
    private final Runner runner;
    private final StoredCatalogue records;
    private final Roots roots;
    private final Previews previews;

    FindResource(Workspace workspace, Runner runner, StoredCatalogue records, Previews previews, Roots roots) {
        this.roots = roots;
        this.workspace = workspace;
        this.runner = runner;
        this.records = records;
        this.previews = previews;
    }

    /**
     * A file that lies in the job's folders.
     *
     * @param created when it came into being; absent where the file system does not tell
     * @param rule what took or skipped it
     * @param facts what the pieces of its name say
     * @param waiting why it is not complete, where it is taken and is not
     * @param status of a file that is taken: {@code new}, {@code loaded}, {@code changed} or {@code rejected}, compared
     *     with what is known
     * @param run the run by which it stands so
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record FoundFile(
            int place,
            String path,
            String relative,
            String name,
            long size,
            Instant modified,
            Instant created,
            boolean taken,
            String rule,
            Map<String, String> facts,
            String waiting,
            String status,
            Long run) {}

    /**
     * What a job would take, asked for with its file as it stands or with a text that may become its file.
     *
     * @param text the job's file; absent for the one that is saved
     * @param changes made to the text before anything is looked for, one after another
     * @param set values given for this look alone
     * @param fresh whether the folders are looked into anew; otherwise a listing some seconds old will do
     * @param place only files of this place, counted from 1; 0 for all
     * @param which {@code all}, {@code taken}, {@code skipped} or {@code waiting}
     * @param search only files with these characters in their path or rule, in any case
     * @param sort {@code relative}, {@code size}, {@code modified}, {@code created}, {@code rule} or {@code place}
     * @param offset which of the files to answer with
     * @param limit how many of them, at most 1,000
     */
    public record FindRequest(
            String text,
            List<JobEdit.Change> changes,
            Map<String, String> set,
            boolean fresh,
            int place,
            String which,
            String search,
            String sort,
            boolean descending,
            int offset,
            int limit) {}

    /**
     * What really lies in a place: the smallest and largest size in bytes, the earliest and latest times. Absent where
     * nothing is there; of more than 10,000 files it is found out when they were created only where a rule asks for it.
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Bounds(
            int place,
            long files,
            Long smallest,
            Long largest,
            Instant oldest,
            Instant newest,
            Instant firstCreated,
            Instant lastCreated) {}

    /**
     * A folder that could not be searched, or not wholly.
     *
     * @param place which place of the job, counted from 1
     * @param grave whether the job cannot run because of it
     */
    public record Trouble(int place, boolean grave, String what, String hint) {
        static Trouble of(Finding.Trouble trouble) {
            return new Trouble(trouble.place(), trouble.grave(), trouble.what(), trouble.hint());
        }
    }

    /**
     * The answer.
     *
     * @param text the job's file with the changes made
     * @param version of the file as it is saved
     * @param problems mistakes of the text in {@code values} and {@code find}; places that have some are left out
     * @param places what each place of the text says, by key, as it is written
     * @param nearly files that are skipped although a pattern nearly takes them, and what differs: a few sentences
     * @param matching files that {@code which} and {@code search} let through
     * @param files some of them
     * @param listed when the folders were looked into
     */
    public record FindView(
            String text,
            String version,
            List<Problem> problems,
            List<Map<String, Object>> places,
            List<Values.Used> values,
            List<Trouble> troubles,
            List<RuleCounts> counts,
            List<Bounds> bounds,
            int seen,
            int taken,
            int waiting,
            int skipped,
            List<String> nearly,
            int matching,
            List<FoundFile> files,
            Instant listed) {}

    /**
     * Lines of a file, as they are.
     *
     * @param path absolute
     * @param size bytes
     * @param encoding in which the job reads it; empty where it is no text
     */
    public record PeekView(String path, long size, String encoding, Peek content) {}

    /**
     * Some lines of a file that lies in the job's folders, taken or not, with invisible characters made visible.
     *
     * @param file its path below the folder of its place, as {@code POST /find} gives it; also an entry of an archive
     *     or a sheet
     * @param from the first line wanted, counted from 1; below 1 the last lines are answered
     * @param count how many lines, at most 500
     */
    @GET
    @Path("/peek")
    public PeekView peek(
            String job,
            @RestQuery String file,
            @RestQuery @DefaultValue("1") long from,
            @RestQuery @DefaultValue("40") int count)
            throws IOException, DefinitionException, UnknownNameException {
        String text = workspace.jobText(job);
        Read rules = Read.USUAL;
        try {
            rules = workspace.job(job).read();
        } catch (DefinitionException wrong) {
            LOG.debug("{} has mistakes; its files are shown as UTF-8", job);
        }
        Map<Integer, Place> places = workspace.search(job, text, Map.of()).places();
        Sources sources = new Sources(workspace.folder(), roots, places);
        Map<String, FilePeeks.Looked> found = new TreeMap<>(looked(places, sources, rules, file, from, count));
        if (found.isEmpty() && file != null && !file.isBlank()) {
            Optional<String> named = named(places, sources, file);
            if (named.isPresent()) {
                found.putAll(looked(places, sources, rules, named.get(), from, count));
            }
        }
        if (found.size() > 1) {
            throw new BadRequestException(new FilesNamed.AmbiguousException(file, found.keySet()).getMessage());
        }
        if (found.size() == 1) {
            FilePeeks.Looked looked = found.values().iterator().next();
            return new PeekView(
                    looked.path().toString(), looked.size(), looked.content().encoding(), looked.content());
        }
        throw new NotFoundException("There is no file '" + file + "' in the folders of " + job);
    }

    /** The file that is called so and lies in a subfolder; taken or not. */
    private Optional<String> named(Map<Integer, Place> places, Sources sources, String file) {
        Set<String> names = new TreeSet<>();
        for (Map.Entry<Integer, Place> place : places.entrySet()) {
            Finding finding = runner.finder().find(List.of(place.getValue()));
            Stream.concat(finding.taken().stream(), finding.skipped().stream())
                    .forEach(one -> names.add(sources.prefix(place.getKey()) + one.relative()));
        }
        try {
            return FilesNamed.of(file).among(names).stream().findFirst();
        } catch (FilesNamed.AmbiguousException several) {
            throw new BadRequestException(several.getMessage());
        } catch (IllegalArgumentException wrong) {
            throw new BadRequestException(wrong.getMessage());
        }
    }

    private Map<String, FilePeeks.Looked> looked(
            Map<Integer, Place> places, Sources sources, Read rules, String file, long from, int count) {
        Map<String, FilePeeks.Looked> found = new TreeMap<>();
        for (Map.Entry<Integer, Place> place : places.entrySet()) {
            String prefix = sources.prefix(place.getKey());
            for (String relative : relatives(file, prefix)) {
                try {
                    runner.peeks()
                            .of(place.getValue(), rules, relative, from, Math.max(1, count))
                            .ifPresent(looked -> found.put(prefix + relative, looked));
                } catch (IOException wrong) {
                    throw new BadRequestException(file + " cannot be shown: " + wrong.getMessage());
                }
            }
        }
        return found;
    }

    /** What a caller's file may be called below a place's folder: as it is given, or without the place in front. */
    private static List<String> relatives(String file, String prefix) {
        if (file == null) {
            return List.of();
        }
        return !prefix.isEmpty() && file.startsWith(prefix)
                ? List.of(file, file.substring(prefix.length()))
                : List.of(file);
    }

    private static int waiting(List<Candidate> files) {
        return (int) files.stream().filter(file -> file.waiting().isPresent()).count();
    }

    private static FoundFile file(Candidate file, Sources sources, Map<String, LedgerEntry> ledger) {
        LedgerEntry known = file.taken() ? ledger.get(sources.of(file)) : null;
        Map<String, String> facts = new LinkedHashMap<>();
        file.facts().forEach((name, fact) -> facts.put(name, fact.text()));
        return new FoundFile(
                file.place(),
                file.key(),
                file.relative(),
                file.name(),
                file.size(),
                file.modified(),
                file.created().orElse(null),
                file.taken(),
                file.rule(),
                facts,
                file.waiting().map(Candidate.Waiting::sentence).orElse(null),
                file.taken() ? status(file, known) : null,
                known == null ? null : known.arrival().entry());
    }

    /**
     * What a job, or a text that may become its file, would take. Answers at once from a listing, so that it can be
     * asked while somebody writes.
     */
    @POST
    @Path("/find")
    public FindView find(String job, FindRequest request)
            throws IOException, DefinitionException, UnknownNameException {
        if (request == null) {
            throw new BadRequestException("Say what to look for: {\"limit\": 100}");
        }
        String saved = workspace.jobText(job);
        String text = request.text() == null ? saved : request.text();
        List<Map<String, Object>> places = List.of();
        try {
            text = JobEdit.apply(text, request.changes() == null ? List.of() : request.changes());
            places = JobEdit.places(text);
        } catch (IllegalArgumentException wrong) {
            if (request.changes() != null && !request.changes().isEmpty()) {
                throw new BadRequestException("The change cannot be made: " + wrong.getMessage());
            }
        }
        workspace.checkCall(job, text, ValueParameters.orNone(request.set()));
        Definitions.Search search = workspace.search(job, text, ValueParameters.orNone(request.set()));
        Previews.Preview preview =
                previews.of(search.places(), List.of(text, ValueParameters.orNone(request.set())), request.fresh());
        List<Candidate> all = preview.finding().candidates();
        List<Candidate> matching =
                all.stream().filter(chosen(request)).sorted(order(request)).toList();
        int from = Math.max(0, Math.min(request.offset(), matching.size()));
        List<Candidate> page = matching.subList(
                from, Math.min(matching.size(), from + Math.max(0, Math.min(request.limit(), MOST_FILES))));
        Sources sources = new Sources(workspace.folder(), roots, search.places());
        Map<String, LedgerEntry> ledger = page.isEmpty()
                ? Map.of()
                : records.ledger(job, page.stream().map(sources::of).toList());
        List<Candidate> taken = preview.finding().taken();
        return new FindView(
                text,
                Definitions.version(saved),
                search.problems(),
                places,
                search.values(),
                preview.finding().troubles().stream().map(Trouble::of).toList(),
                preview.finding().counts(),
                bounds(search.places(), all),
                all.size(),
                taken.size(),
                waiting(taken),
                all.size() - taken.size(),
                preview.finding().nearlyTaken(),
                matching.size(),
                page.stream().map(file -> file(file, sources, ledger)).toList(),
                preview.listed());
    }

    private static Predicate<Candidate> chosen(FindRequest request) {
        Predicate<Candidate> kind =
                switch (request.which() == null ? "all" : request.which()) {
                    case "all" -> file -> true;
                    case "taken" -> Candidate::taken;
                    case "skipped" -> file -> !file.taken();
                    case "waiting" -> file -> file.waiting().isPresent();
                    default -> throw new BadRequestException("'which' must be all, taken, skipped or waiting");
                };
        Predicate<Candidate> which = request.place() == 0 ? kind : kind.and(file -> file.place() == request.place());
        String part = request.search() == null ? "" : request.search().strip().toLowerCase(Locale.ROOT);
        return part.isEmpty()
                ? which
                : which.and(file -> file.relative().toLowerCase(Locale.ROOT).contains(part)
                        || file.rule().toLowerCase(Locale.ROOT).contains(part));
    }

    private static Comparator<Candidate> order(FindRequest request) {
        Comparator<Candidate> order =
                switch (request.sort() == null ? "relative" : request.sort()) {
                    case "relative" -> Comparator.comparing(Candidate::relative);
                    case "size" -> Comparator.comparingLong(Candidate::size);
                    case "modified" -> Comparator.comparing(Candidate::modified);
                    case "created" ->
                        Comparator.comparing(file -> file.created().orElse(Instant.MIN));
                    case "rule" -> Comparator.comparing(Candidate::taken).thenComparing(Candidate::rule);
                    case "place" -> Comparator.comparingInt(Candidate::place);
                    default ->
                        throw new BadRequestException(
                                "'sort' must be relative, size, modified, created, rule or place");
                };
        return (request.descending() ? order.reversed() : order)
                .thenComparing(Candidate::place)
                .thenComparing(Candidate::relative);
    }

    private static List<Bounds> bounds(Map<Integer, Place> places, List<Candidate> files) {
        List<Bounds> bounds = new ArrayList<>();
        for (int place : places.keySet()) {
            boolean asks = files.size() <= MOST_ASKED
                    || places.get(place).rules().stream().anyMatch(FindRule.Created.class::isInstance);
            LongSummaryStatistics sizes = new LongSummaryStatistics();
            Instant oldest = null;
            Instant newest = null;
            Instant first = null;
            Instant last = null;
            for (Candidate file : files) {
                if (file.place() == place) {
                    sizes.accept(file.size());
                    oldest = oldest == null || file.modified().isBefore(oldest) ? file.modified() : oldest;
                    newest = newest == null || file.modified().isAfter(newest) ? file.modified() : newest;
                    Instant created = asks ? file.created().orElse(null) : null;
                    first = created != null && (first == null || created.isBefore(first)) ? created : first;
                    last = created != null && (last == null || created.isAfter(last)) ? created : last;
                }
            }
            boolean none = sizes.getCount() == 0;
            bounds.add(new Bounds(
                    place,
                    sizes.getCount(),
                    none ? null : sizes.getMin(),
                    none ? null : sizes.getMax(),
                    oldest,
                    newest,
                    first,
                    last));
        }
        return bounds;
    }

    private static String status(Candidate file, LedgerEntry known) {
        if (known == null) {
            return "new";
        }
        boolean same = known.fingerprint().size() == file.size()
                && known.fingerprint().modified().equals(file.modified().truncatedTo(ChronoUnit.MICROS));
        return !same
                ? "changed"
                : !known.arrival().accepted() || known.standing().copyOf() != 0 ? "rejected" : "loaded";
    }
}
