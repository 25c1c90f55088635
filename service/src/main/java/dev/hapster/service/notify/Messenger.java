package dev.hapster.service.notify;

import com.fasterxml.jackson.databind.ObjectMapper;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.definition.AccountDef;
import dev.hapster.core.definition.AccountDef.Mail;
import dev.hapster.core.definition.AccountDef.Web;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.due.ArrivalCalendar;
import dev.hapster.core.due.Cell;
import dev.hapster.core.due.Each;
import dev.hapster.core.notify.Event;
import dev.hapster.core.notify.Notice;
import dev.hapster.core.pattern.Durations;
import dev.hapster.core.run.load.RunState;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.calendar.Calendars;
import dev.hapster.service.calendar.CellWords;
import dev.hapster.service.catalogue.StoredMessages;
import dev.hapster.service.catalogue.StoredRuns;
import dev.hapster.service.catalogue.record.MessageRecord;
import dev.hapster.service.catalogue.record.RunFileRecord;
import dev.hapster.service.catalogue.record.RunRecord;
import dev.hapster.service.notify.MessageMaker.Finding;
import dev.hapster.service.work.Repeating;
import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import jakarta.annotation.Priority;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import jakarta.interceptor.Interceptor;
import java.io.IOException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Tells people and programs how runs went, and what did not arrive. What is to be told is found in the history, so that
 * a kill at any moment leaves nothing untold; a message is kept until it is sent, and may be sent twice where the kill
 * comes in between. Thread-safe.
 */
@ApplicationScoped
public class Messenger {

    private static final Logger LOG = LoggerFactory.getLogger(Messenger.class);

    private static final long STEP = Long.getLong("hapster.step", 500);
    private static final Duration LOOK = Duration.ofMillis(
            Long.getLong("hapster.calendar-look", Duration.ofMinutes(1).toMillis()));
    private static final Duration FIRST_PAUSE = Duration.ofMillis(
            Long.getLong("hapster.message-pause", Duration.ofMinutes(1).toMillis()));
    private static final Duration LONGEST_PAUSE = Duration.ofHours(1);
    private static final Duration GIVEN_UP_AFTER = Duration.ofDays(3);
    private static final Duration KEPT = Duration.ofDays(90);
    /** So long messages are kept that were given up. */
    private static final Duration SHOWN = Duration.ofDays(30);
    /** So many periods are looked at for what is late or missing. */
    private static final int PERIODS = 100;

    private static final Set<Event> OF_ARRIVALS = Set.of(Event.MISSING, Event.LATE, Event.UNUSUAL);

    private final Workspace workspace;
    private final StoredRuns runs;
    private final StoredMessages messages;
    private final Calendars calendars;
    private final Clock clock;
    private final ObjectMapper json;
    private final MessageMaker maker;
    private final WebSender web;
    private final String address;
    /** Whom jobs told when that could last be read. */
    private final Map<String, List<Notice>> known = new ConcurrentHashMap<>();
    /** Accounts by which something is being sent: a slow server keeps up no other. */
    private final Set<String> busy = ConcurrentHashMap.newKeySet();

    private final ExecutorService sending = Executors.newCachedThreadPool(work -> {
        Thread thread = new Thread(work, "messages");
        thread.setDaemon(true);
        return thread;
    });
    private final Repeating telling = new Repeating(
            "messenger", STEP, this::follow, LOG, "Nobody can be told of runs at the moment; it is tried again");
    private Instant looked = Instant.MIN;
    private Instant swept = Instant.MIN;

    Messenger(
            Workspace workspace,
            StoredRuns runs,
            StoredMessages messages,
            Calendars calendars,
            ReportText reports,
            Clock clock,
            ObjectMapper json,
            @ConfigProperty(name = "hapster.address") Optional<String> address,
            @ConfigProperty(name = "quarkus.http.port") int port) {
        this.workspace = workspace;
        this.runs = runs;
        this.messages = messages;
        this.calendars = calendars;
        this.clock = clock;
        this.json = json;
        this.address = address.map(given -> given.replaceFirst("/+$", "")).orElse("http://127.0.0.1:" + port);
        maker = new MessageMaker(reports, json, this.address);
        web = new WebSender(clock);
    }

    /** After all else that a start puts in order. */
    void onStart(@Observes @Priority(Interceptor.Priority.PLATFORM_AFTER) StartupEvent start) {
        telling.start();
    }

    /** Nobody is interrupted: that would close the catalogue's file. */
    void onStop(@Observes @Priority(Interceptor.Priority.PLATFORM_BEFORE) ShutdownEvent stop)
            throws InterruptedException {
        telling.stop();
        sending.shutdown();
        if (!sending.awaitTermination(10, TimeUnit.SECONDS)) {
            LOG.warn("A message was being sent when the service was stopped; it may be sent once more");
        }
    }

    private void follow() throws IOException {
        Instant now = clock.instant();
        send(now); // first: whatever is wrong with what is to be told keeps up nothing that was
        tellOfRuns(now);
        if (Duration.between(looked, now).abs().compareTo(LOOK) >= 0) {
            looked = now;
            tellOfArrivals(now);
        }
        if (swept.isBefore(now.minus(Duration.ofDays(1)))) {
            swept = now;
            messages.sweep(now.minus(KEPT), now.minus(SHOWN));
        }
    }

    private void tellOfRuns(Instant now) throws IOException {
        Troubles troubles = new Troubles();
        for (RunRecord run : messages.untold()) {
            if (telling.isStopping()) {
                return;
            }
            troubles.apart(() -> {
                boolean ran = run.kind.equals(RunRecord.RUN) || run.kind.equals(RunRecord.RETRY);
                List<Notice> notices = ran ? notices(run.job) : List.of();
                messages.tell(run.id, notices.isEmpty() ? List.of() : maker.about(run, events(run), notices, now));
                looked = Instant.MIN; // what arrived may be late
            });
        }
        troubles.raise();
    }

    /** What goes wrong with one job or run, while others are told all the same. */
    private static final class Troubles {
        private Exception last;

        void apart(Repeating.Turn work) {
            try {
                work.perform();
            } catch (IOException | RuntimeException wrong) {
                last = wrong;
            }
        }

        void raise() throws IOException {
            if (last instanceof IOException wrong) {
                throw wrong;
            }
            if (last instanceof RuntimeException wrong) {
                throw wrong;
            }
        }
    }

    private Set<Event> events(RunRecord run) {
        Set<Event> events = EnumSet.of(Event.RUN);
        Optional<RunRecord> before = messages.before(run);
        boolean failedBefore = before.filter(StoredMessages::isFailed).isPresent();
        if (StoredMessages.isFailed(run)
                && run.againAt == null
                && !(failedBefore && String.valueOf(before.get().failure).equals(String.valueOf(run.failure)))) {
            events.add(Event.FAILED);
        }
        boolean rejects = runs.files(run.id).stream().anyMatch(Messenger::isRejecting);
        if (rejects) {
            events.add(Event.REJECTED);
        }
        if (failedBefore && !StoredMessages.isFailed(run) && run.state == RunState.FINISHED) {
            events.add(Event.RECOVERED);
        }
        return events;
    }

    private static boolean isRejecting(RunFileRecord file) {
        return file.outcome == Outcome.REJECTED || file.rowsRejected > 0;
    }

    /** Whom a job tells; where its file can be read no more, whom it told before. */
    private List<Notice> notices(String job) throws IOException {
        try {
            List<Notice> notices = workspace.notices(job);
            known.put(job, notices);
            return notices;
        } catch (DefinitionException | UnknownNameException unreadable) {
            List<Notice> before = known.get(job);
            return before != null ? before : shared(job);
        }
    }

    private List<Notice> shared(String job) throws IOException {
        try {
            return workspace.sharedNotices().stream()
                    .filter(notice -> notice.isAbout(job))
                    .toList();
        } catch (DefinitionException unreadable) {
            return List.of(); // problems() says so
        }
    }

    private void tellOfArrivals(Instant now) throws IOException {
        Troubles troubles = new Troubles();
        for (String job : workspace.jobs()) {
            troubles.apart(() -> {
                List<Notice> notices = notices(job).stream()
                        .filter(notice -> notice.on().stream().anyMatch(OF_ARRIVALS::contains))
                        .toList();
                if (!notices.isEmpty()) {
                    tellOfArrivals(job, notices, now);
                }
            });
        }
        troubles.raise();
    }

    private void tellOfArrivals(String job, List<Notice> notices, Instant now) throws IOException {
        Optional<ArrivalCalendar> calendar;
        try {
            calendar = calendars.of(job, due -> PERIODS);
        } catch (DefinitionException | UnknownNameException unreadable) {
            return; // the calendar says so
        }
        if (calendar.isEmpty()) {
            return;
        }
        Set<StoredMessages.Cell> told = messages.told(job);
        CellWords words = new CellWords(calendar.get().due());
        Each each = calendar.get().due().each();
        List<Finding> findings = new ArrayList<>();
        Set<StoredMessages.Cell> there = new HashSet<>();
        for (ArrivalCalendar.Source source : calendar.get().sources()) {
            String name = String.join(", ", source.facts().values());
            for (int i = 0; i < source.cells().size(); i++) {
                Cell cell = source.cells().get(i);
                Optional<Event> event = event(cell);
                if (event.filter(what ->
                                notices.stream().anyMatch(notice -> notice.on().contains(what)))
                        .isPresent()) {
                    String period = each.name(calendar.get().periods().get(i));
                    StoredMessages.Cell key = new StoredMessages.Cell(
                            job, name, period, event.get().word());
                    there.add(key);
                    if (!told.contains(key)) {
                        findings.add(new Finding(event.get(), name, period, words.of(cell)));
                    }
                }
            }
        }
        if (!there.equals(told)) {
            messages.tell(job, there, findings.isEmpty() ? List.of() : maker.about(job, findings, notices, now));
        }
    }

    /** Of what somebody may be told because of a cell. */
    private static Optional<Event> event(Cell cell) {
        return switch (cell.state()) {
            case LATE -> Optional.of(Event.LATE);
            case MISSING -> Optional.of(Event.MISSING);
            case UNUSUAL -> Optional.of(Event.UNUSUAL);
            default -> Optional.empty();
        };
    }

    private void send(Instant now) {
        Map<String, Map<String, List<MessageRecord>>> byAccount = new LinkedHashMap<>();
        for (MessageRecord message : messages.due(now, busy)) {
            byAccount
                    .computeIfAbsent(message.account, none -> new LinkedHashMap<>())
                    .computeIfAbsent(message.digest ? message.recipient : message.uid, none -> new ArrayList<>())
                    .add(message);
        }
        byAccount.forEach((account, some) -> {
            if (!telling.isStopping() && busy.add(account)) {
                sending.execute(() -> {
                    try {
                        for (List<MessageRecord> together : some.values()) {
                            if (telling.isStopping() || !send(account, together)) {
                                break;
                            }
                        }
                    } catch (RuntimeException wrong) {
                        LOG.warn("What became of a message cannot be recorded; it may be sent once more", wrong);
                    } finally {
                        busy.remove(account);
                    }
                });
            }
        });
    }

    /** Sends messages as one; false where none can be sent by the account, so that others wait, too. */
    private boolean send(String account, List<MessageRecord> together) {
        List<Long> ids = together.stream().map(message -> message.id).toList();
        try {
            deliver(account, MessageMaker.together(together, json));
        } catch (SendException wrong) {
            Instant now = clock.instant();
            MessageRecord first = together.get(0);
            Duration pause = Duration.ofMillis(
                    Math.min(LONGEST_PAUSE.toMillis(), FIRST_PAUSE.toMillis() << Math.min(first.tries, 20)));
            boolean over = first.event.equals("trial")
                    || first.madeAt.plus(GIVEN_UP_AFTER).isBefore(now);
            messages.tried(
                    ids,
                    now,
                    over ? Optional.empty() : Optional.of(now.plus(pause)),
                    Optional.of(String.valueOf(wrong.getMessage())));
            LOG.warn("A message by the account {} cannot be sent: {}", account, wrong.getMessage());
            if (wrong.isOfAll() && !over) {
                messages.postpone(account, now.plus(pause));
            }
            return !wrong.isOfAll();
        }
        messages.tried(ids, clock.instant(), Optional.empty(), Optional.empty());
        return true;
    }

    private void deliver(String name, Message message) throws SendException {
        AccountDef account;
        try {
            account = workspace.account(name);
        } catch (IOException | DefinitionException | UnknownNameException wrong) {
            throw new SendException(String.valueOf(wrong.getMessage()), true, wrong);
        }
        if (account.at() instanceof Mail mail) {
            if (message.to().isEmpty()) {
                throw new SendException(
                        "The account " + name + " leads to mail, and 'notify' names nobody in 'to'", false);
            }
            MailSender.send(account, mail, workspace.folder(), message);
        } else if (account.at() instanceof Web at) {
            web.send(account, at, workspace.folder(), message, address);
        } else {
            throw new SendException(
                    "The account " + name + " leads to " + account.at().noun()
                            + "; messages need one with `mail` or `http`",
                    true);
        }
    }

    /** Has a trial message sent, and says under which number it is found. */
    public MessageRecord trial(String account, String to)
            throws IOException, DefinitionException, UnknownNameException {
        workspace.account(account); // says so where there is none
        return messages.enter(maker.trial(account, to, clock.instant()));
    }

    /** A job is no more: another one may get its name. */
    public void deleted(String job) {
        known.remove(job);
        messages.forget(job);
    }

    /** What keeps messages from being sent, a sentence each. */
    public List<String> problems() throws IOException {
        List<String> all = new ArrayList<>();
        try {
            workspace.sharedNotices();
        } catch (DefinitionException wrong) {
            all.add("notify.yaml cannot be read, and nobody is told because of it: " + wrong.getMessage());
        }
        Map<String, List<MessageRecord>> byAccount = new TreeMap<>();
        messages.failing().stream()
                .filter(message -> !message.event.equals("trial"))
                .forEach(message -> byAccount
                        .computeIfAbsent(message.account, none -> new ArrayList<>())
                        .add(message));
        Instant now = clock.instant();
        byAccount.forEach((account, some) -> {
            long waiting = some.stream()
                    .filter(message -> message.state == MessageRecord.State.WAITING)
                    .count();
            MessageRecord last = some.get(some.size() - 1);
            long seconds = Math.max(0, Duration.between(now, last.nextAt).toSeconds());
            all.add((waiting > 0
                            ? waiting + " message" + (waiting == 1 ? "" : "s") + " by the account " + account
                                    + " cannot be sent; the next try is in "
                                    + Durations.format(Duration.ofSeconds(seconds))
                            : some.size() + " message" + (some.size() == 1 ? " was" : "s were")
                                    + " given up after three days, by " + "the account " + account
                                    + "; hapster messages --again sends them")
                    + ": " + last.failure);
        });
        return all;
    }
}
