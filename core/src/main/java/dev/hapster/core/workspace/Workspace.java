package dev.hapster.core.workspace;

import dev.hapster.core.definition.AccountDef;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.Values;
import dev.hapster.core.definition.edit.JobCopy;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.section.DatasetSection;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.disk.OpenFolder;
import dev.hapster.core.notify.Notice;
import dev.hapster.core.schedule.Faults;
import dev.hapster.core.schedule.When;
import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.nio.file.AccessDeniedException;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Clock;
import java.time.ZoneId;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/**
 * A folder with definitions. The files are the truth: they are read anew each time, and only what was made of the same
 * text before is not made again. Thread-safe.
 */
public final class Workspace {

    private static final String SUFFIX = ".yaml";
    private static final String VALUES = "values.yaml";
    private static final String ACCOUNTS = "accounts.yaml";
    private static final String NOTIFY = "notify.yaml";
    private static final int MOST_BYTES = 1_000_000;

    private final Path folder;
    private final KnownTexts<DatasetDef> madeDatasets = new KnownTexts<>();
    private final KnownTexts<Map<String, String>> madeValues = new KnownTexts<>();
    private final KnownTexts<List<Notice>> madeNotices = new KnownTexts<>();
    private final KnownTexts<Definitions.Expected> madeExpected = new KnownTexts<>();
    private final LookupFiles lookups = new LookupFiles(this::bytes);

    /** @param folder made absolute; it need not exist yet */
    public Workspace(Path folder) {
        this.folder = folder.toAbsolutePath().normalize();
    }

    /** Its folder, absolute and normalised. */
    public Path folder() {
        return folder;
    }

    /** The folder in which Hapster keeps what is its own. */
    public Path store() {
        return folder.resolve("store");
    }

    /** All accounts of {@code accounts.yaml}, by name; none where there is no such file. */
    public Map<String, AccountDef> accountsByName() throws IOException, DefinitionException {
        return Files.isRegularFile(accounts()) ? Definitions.accounts(ACCOUNTS, text(ACCOUNTS)) : Map.of();
    }

    /** The file in which accounts are declared; it need not be there. */
    public Path accounts() {
        return folder.resolve(ACCOUNTS);
    }

    /** Names of the jobs that have a file now, in order; what is in the files may be wrong. */
    public Set<String> jobs() throws IOException {
        return names(Kind.JOB);
    }

    /** Names of the datasets that have a file now, in order; what is in the files may be wrong. */
    public Set<String> datasets() throws IOException {
        return names(Kind.DATASET);
    }

    private Set<String> names(String kind) throws IOException {
        Set<String> names = new TreeSet<>();
        Path of = folder.resolve(kind);
        if (Files.isDirectory(of)) {
            try (DirectoryStream<Path> files = Files.newDirectoryStream(of, "*" + SUFFIX)) {
                for (Path file : files) {
                    String name = file.getFileName().toString();
                    names.add(name.substring(0, name.length() - SUFFIX.length()));
                }
            }
        }
        return names;
    }

    public DatasetDef dataset(String name) throws IOException, DefinitionException, UnknownNameException {
        if (!datasets().contains(name)) {
            throw new UnknownNameException("dataset", name, datasets());
        }
        String file = file(Kind.DATASET, name);
        return madeDatasets.of(file, text(file), Definitions::dataset);
    }

    /** The job, with no values given by a caller. */
    public JobDef job(String name) throws IOException, DefinitionException, UnknownNameException {
        return job(name, Map.of());
    }

    /**
     * The job, checked against its dataset. Mistakes of the dataset's file are reported with those of the job's.
     *
     * @param call values given by the caller, by name
     */
    public JobDef job(String name, Map<String, String> call)
            throws IOException, DefinitionException, UnknownNameException {
        String text = jobText(name);
        checkCall(name, text, call);
        return job(name, text, call);
    }

    /**
     * Checks the names of values that a caller gives for a job.
     *
     * @throws UnknownNameException for one that neither the job's file nor {@code values.yaml} speaks of
     */
    public void checkCall(String name, String text, Map<String, String> call)
            throws IOException, DefinitionException, UnknownNameException {
        if (call.isEmpty()) {
            return;
        }
        boolean shared = Files.isRegularFile(folder.resolve(VALUES));
        Set<String> used = Values.mentioned(text + (shared ? text(VALUES) : ""));
        for (String given : call.keySet()) {
            if (!used.contains(given)) {
                throw UnknownNameException.value(name, given, used);
            }
        }
    }

    /** The same for a text that is not in the job's file, or not yet. */
    public JobDef job(String name, String text, Map<String, String> call) throws IOException, DefinitionException {
        String file = file(name);
        Set<String> known = datasets();
        List<Problem> ofDataset = new java.util.ArrayList<>();
        try {
            JobDef job = Definitions.job(
                    file, text, dataset -> quietly(dataset, known, ofDataset), known, values(call), lookups);
            if (!ofDataset.isEmpty()) {
                throw new DefinitionException(ofDataset);
            }
            return job;
        } catch (DefinitionException wrong) {
            List<Problem> all = new java.util.ArrayList<>(wrong.problems());
            ofDataset.stream().filter(problem -> !all.contains(problem)).forEach(all::add);
            throw new DefinitionException(all);
        }
    }

    /**
     * The same, checked against a dataset that may not be saved yet.
     *
     * @param dataset the one that the job loads into; empty for the saved one
     */
    public JobDef job(String name, String text, Map<String, String> call, Optional<DatasetDef> dataset)
            throws IOException, DefinitionException {
        return dataset.isEmpty()
                ? job(name, text, call)
                : Definitions.job(file(name), text, any -> dataset, datasets(), values(call), lookups);
    }

    /** The dataset into which a job loads, as somebody is writing it. */
    public DatasetDef datasetOf(String name, String text, Map<String, String> call, String datasetText)
            throws IOException, DefinitionException {
        return Definitions.dataset(file(Kind.DATASET, Definitions.into(file(name), text)), datasetText);
    }

    /** What a job's file, or a text that may become one, says about where to look. */
    public Definitions.Search search(String name, String text, Map<String, String> call)
            throws IOException, DefinitionException {
        return Definitions.search(file(name), text, values(call));
    }

    /** The dataset that a job's file names, whatever else is wrong with it; empty where it names none. */
    public String into(String name) throws IOException, DefinitionException, UnknownNameException {
        return Definitions.into(file(name), jobText(name));
    }

    /**
     * What a job's file says of when it runs, whatever else is wrong with it; empty where it says nothing.
     *
     * @throws DefinitionException where that cannot be read
     */
    public Optional<When> when(String name) throws IOException, DefinitionException, UnknownNameException {
        return when(name, jobText(name));
    }

    /** Whether a job's file says that it runs by itself; a file that cannot be read says nothing. */
    public boolean runsByItself(String name) {
        try {
            return when(name).isPresent();
        } catch (IOException | DefinitionException | UnknownNameException unreadable) {
            return false;
        }
    }

    /** The same for a text that is not in the job's file, or not yet. */
    public Optional<When> when(String name, String text) throws IOException, DefinitionException {
        return Definitions.when(file(name), text, values(Map.of()));
    }

    /** What a job's file says of faults that may pass; empty where it says nothing, or cannot be read. */
    public Optional<Faults> faults(String name) {
        try {
            return Definitions.faults(file(name), jobText(name), values(Map.of()));
        } catch (IOException | DefinitionException | UnknownNameException unreadable) {
            return Optional.empty();
        }
    }

    /**
     * What a job's file says of what is to arrive, whatever else is wrong with it.
     *
     * @throws DefinitionException where that cannot be read
     */
    public Definitions.Expected expected(String name) throws IOException, DefinitionException, UnknownNameException {
        return expected(name, jobText(name));
    }

    /** The same for a text that is not in the job's file, or not yet. */
    public Definitions.Expected expected(String name, String text) throws IOException, DefinitionException {
        return Values.areOutOf(text)
                ? madeExpected.of(file(name), text, (file, same) -> Definitions.expected(file, same, Values.none()))
                : Definitions.expected(file(name), text, values(Map.of()));
    }

    /**
     * Who is told how a job went: whom its own file names, and whom {@code notify.yaml} names.
     *
     * @throws DefinitionException where one of them cannot be read
     */
    public List<Notice> notices(String job) throws IOException, DefinitionException, UnknownNameException {
        String text = jobText(job);
        List<Notice> notices = new java.util.ArrayList<>(
                Values.areOutOf(text)
                        ? madeNotices.of(
                                file(job), text, (file, same) -> Definitions.notices(file, same, Values.none()))
                        : Definitions.notices(file(job), text, values(Map.of())));
        sharedNotices().stream().filter(notice -> notice.isAbout(job)).forEach(notices::add);
        return notices;
    }

    /** Who is told of all jobs, or of several. */
    public List<Notice> sharedNotices() throws IOException, DefinitionException {
        return Files.isRegularFile(folder.resolve(NOTIFY))
                ? madeNotices.of(NOTIFY, text(NOTIFY), Definitions::sharedNotices)
                : List.of();
    }

    /**
     * What names stand for: in the call, the environment, {@code values.yaml}, and the present date on this machine.
     */
    private Values values(Map<String, String> call) throws IOException, DefinitionException {
        List<Problem> wrong = Values.mistakes(call).stream()
                .map(what -> new Problem("the call", 0, 0, what, ""))
                .toList();
        if (!wrong.isEmpty()) {
            throw new DefinitionException(wrong);
        }
        boolean shared = Files.isRegularFile(folder.resolve(VALUES));
        return Values.of(
                shared ? madeValues.of(VALUES, text(VALUES), Definitions::values) : Map.of(),
                System.getenv(),
                call,
                Clock.system(ZoneId.systemDefault()));
    }

    /**
     * An account of {@code accounts.yaml}.
     *
     * @throws UnknownNameException where it has none of this name, or is not there
     */
    public AccountDef account(String name) throws IOException, DefinitionException, UnknownNameException {
        Map<String, AccountDef> accounts = accountsByName();
        if (!accounts.containsKey(name)) {
            throw UnknownNameException.account(name, accounts.keySet());
        }
        return accounts.get(name);
    }

    private static String file(String job) {
        return file(Kind.JOB, job);
    }

    /** What is defined by a file of its own. */
    public enum Kind {
        JOB("jobs"),
        DATASET("datasets"),
        QUERY("queries");

        private final String folder;

        Kind(String folder) {
            this.folder = folder;
        }

        /** As it stands in texts, and as the first key of its file. */
        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }

        static Kind of(String word) {
            return valueOf(word.toUpperCase(Locale.ROOT));
        }
    }

    /** Where a definition lies, relative to the workspace. */
    static String file(Kind kind, String name) {
        return kind.folder + "/" + name + SUFFIX;
    }

    Set<String> names(Kind kind) throws IOException {
        return names(kind.folder);
    }

    private Optional<DatasetDef> quietly(String dataset, Set<String> known, List<Problem> problems) {
        if (!known.contains(dataset)) {
            return Optional.empty();
        }
        try {
            return Optional.of(dataset(dataset));
        } catch (DefinitionException wrong) {
            problems.addAll(wrong.problems());
        } catch (IOException | UnknownNameException wrong) {
            problems.add(new Problem(file(Kind.DATASET, dataset), 0, 0, "cannot be read: " + wrong.getMessage(), ""));
        }
        return Optional.empty();
    }

    /** How a job reads its files, for words about them; the usual way where its file cannot be read now. */
    public Format format(String job) {
        try {
            return job(job).read().as();
        } catch (IOException | DefinitionException | UnknownNameException unreadable) {
            return Format.DELIMITED;
        }
    }

    /** The text of a job's file, also where it has mistakes. */
    public String jobText(String name) throws IOException, DefinitionException, UnknownNameException {
        if (!jobs().contains(name)) {
            throw new UnknownNameException("job", name, jobs());
        }
        return text(file(name));
    }

    /** Where a definition lies, seen from the workspace. */
    public static String path(Kind kind, String name) {
        return file(kind, name);
    }

    /** What the file of a definition says, with mistakes and all; empty where there is none. */
    public Optional<String> text(Kind kind, String name) throws IOException, DefinitionException {
        return names(kind).contains(name) ? Optional.of(text(file(kind, name))) : Optional.empty();
    }

    /** What is in a job's file is no longer what a change was made to. */
    public static final class ChangedException extends Exception {
        ChangedException(String file) {
            super(file + " was changed by somebody else in the meantime");
        }
    }

    /**
     * Writes a job's file: whole or not at all. The text must be a job without mistakes.
     *
     * @param version of the text that was changed, as {@link Definitions#version} gives it
     * @param call values given by the caller, for names that have none of their own
     */
    public synchronized JobDef save(String name, String text, String version, Map<String, String> call)
            throws IOException, DefinitionException, UnknownNameException, ChangedException {
        if (!Definitions.version(jobText(name)).equals(version)) {
            throw new ChangedException(file(name));
        }
        checkSize(file(name), text);
        JobDef job = job(name, text, call);
        write(file(name), text);
        return job;
    }

    /**
     * Makes a job: the text must be one without mistakes.
     *
     * @param call values given by the caller, for names that have none of their own
     * @throws DefinitionException also where the name is none, or there is a job of that name already
     */
    public synchronized JobDef create(String name, String text, Map<String, String> call)
            throws IOException, DefinitionException {
        checkNew(Kind.JOB, name, jobs());
        checkSize(file(name), text);
        JobDef job = job(name, text, call);
        Files.createDirectories(folder.resolve(file(name)).getParent());
        write(file(name), text);
        return job;
    }

    /** Makes a dataset, in the same way. */
    public synchronized DatasetDef createDataset(String name, String text) throws IOException, DefinitionException {
        String file = file(Kind.DATASET, name);
        checkNew(Kind.DATASET, name, datasets());
        checkSize(file, text);
        DatasetDef dataset = Definitions.dataset(file, text);
        Files.createDirectories(folder.resolve(file).getParent());
        write(file, text);
        return dataset;
    }

    private static void checkSize(String file, String text) throws DefinitionException {
        if (text.getBytes(StandardCharsets.UTF_8).length > MOST_BYTES) {
            throw new DefinitionException(
                    List.of(new Problem(file, 0, 0, "the text is larger than 1 MB", "A definition is a small text")));
        }
    }

    static void checkNew(Kind kind, String name, Set<String> known) throws DefinitionException {
        String file = file(kind, name);
        if (!name.matches(DatasetSection.FILE_NAME_RULE)) {
            throw new DefinitionException(List.of(new Problem(
                    file,
                    0,
                    0,
                    "a " + kind.word() + " cannot be called '" + name + "'",
                    "Use letters, digits, - and _")));
        }
        if (known.stream().anyMatch(name::equalsIgnoreCase)) {
            throw new DefinitionException(List.of(new Problem(
                    file, 0, 0, "there is a " + kind.word() + " of that name already", "Choose another name")));
        }
    }

    /** Deletes a job's file. What the job loaded stays in its dataset, and its history in the catalogue. */
    public synchronized void delete(String name) throws IOException, DefinitionException, UnknownNameException {
        jobText(name); // says so where there is none
        Files.delete(folder.resolve(file(name)));
    }

    /**
     * Deletes a dataset's file.
     *
     * @throws DefinitionException where jobs load into it
     */
    public synchronized void deleteDataset(String name) throws IOException, DefinitionException, UnknownNameException {
        if (!datasets().contains(name)) {
            throw new UnknownNameException("dataset", name, datasets());
        }
        List<String> jobs = new java.util.ArrayList<>();
        for (String job : jobs()) {
            try {
                if (job(job).into().equals(name)) {
                    jobs.add(job);
                }
            } catch (DefinitionException unreadable) {
                jobs.addAll(jobText(job).contains(name) ? List.of(job) : List.of());
            }
        }
        String file = file(Kind.DATASET, name);
        if (!jobs.isEmpty()) {
            throw new DefinitionException(List.of(new Problem(
                    file,
                    0,
                    0,
                    "jobs load into it: " + String.join(", ", jobs),
                    "Delete them first, or let them load into another dataset")));
        }
        Files.delete(folder.resolve(file));
    }

    /**
     * Writes a dataset's file: whole or not at all. The text must be a dataset without mistakes, and the jobs that load
     * into it must suit it as well as they did.
     *
     * @param version of the text that was changed
     */
    public synchronized DatasetDef saveDataset(String name, String text, String version)
            throws IOException, DefinitionException, UnknownNameException, ChangedException {
        DatasetDef old = dataset(name);
        String file = file(Kind.DATASET, name);
        if (!old.version().equals(version)) {
            throw new ChangedException(file);
        }
        checkSize(file, text);
        DatasetDef fresh = Definitions.dataset(file, text);
        List<Problem> problems = new java.util.ArrayList<>();
        for (String job : jobs()) {
            try {
                if (job(job).into().equals(name)) {
                    Definitions.job(
                            file(job),
                            jobText(job),
                            dataset -> Optional.of(fresh),
                            datasets(),
                            values(Map.of()),
                            lookups);
                }
            } catch (DefinitionException wrong) {
                wrong.problems().stream()
                        .filter(problem -> !mistakes(job).contains(problem))
                        .forEach(problems::add);
            }
        }
        if (!problems.isEmpty()) {
            throw new DefinitionException(problems);
        }
        write(file, text);
        return fresh;
    }

    private List<Problem> mistakes(String job) {
        try {
            job(job);
            return List.of();
        } catch (DefinitionException wrong) {
            return wrong.problems();
        } catch (IOException | UnknownNameException gone) {
            return List.of();
        }
    }

    /**
     * Makes a job out of another one: its text as it stands, mistakes included, with the new name.
     *
     * @param values values to set in the new job's {@code values}, by name
     * @throws DefinitionException where there is one of that name already, or the name or a value is none
     */
    public synchronized void copy(String from, String to, Map<String, String> values)
            throws IOException, DefinitionException, UnknownNameException {
        String text = jobText(from);
        checkNew(Kind.JOB, to, jobs());
        List<Problem> wrong = Values.mistakes(values).stream()
                .map(what -> new Problem(file(to), 0, 0, what, ""))
                .toList();
        if (!wrong.isEmpty()) {
            throw new DefinitionException(wrong);
        }
        String copy;
        try {
            copy = JobCopy.of(text, to, values);
        } catch (IllegalArgumentException broken) {
            throw new DefinitionException(List.of(new Problem(file(from), 0, 0, broken.getMessage(), "")));
        }
        write(file(to), copy);
    }

    /** Makes a dataset with the columns of another one: its file as it stands, with the new name, and no rows. */
    public synchronized void copyDataset(String from, String to)
            throws IOException, DefinitionException, UnknownNameException {
        if (!datasets().contains(from)) {
            throw new UnknownNameException("dataset", from, datasets());
        }
        checkNew(Kind.DATASET, to, datasets());
        write(file(Kind.DATASET, to), Renaming.named(text(file(Kind.DATASET, from)), Kind.DATASET, from, to));
    }

    void write(String file, String text) throws IOException {
        Path target = folder.resolve(file);
        Path fresh = Files.createTempFile(target.getParent(), ".saving-", ".tmp");
        try {
            try (FileChannel channel = FileChannel.open(fresh, StandardOpenOption.WRITE)) {
                ByteBuffer bytes = StandardCharsets.UTF_8.encode(text);
                while (bytes.hasRemaining()) {
                    channel.write(bytes);
                }
                channel.force(true);
            }
            if (Files.exists(target) && Files.getFileStore(target).supportsFileAttributeView("posix")) {
                Files.setPosixFilePermissions(fresh, Files.getPosixFilePermissions(target));
            } else if (Files.getFileStore(fresh).supportsFileAttributeView("posix")) {
                Files.setPosixFilePermissions(fresh, PosixFilePermissions.fromString("rw-r--r--"));
            }
            Files.move(fresh, target, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
        } finally {
            Files.deleteIfExists(fresh);
        }
    }

    String text(String file) throws IOException, DefinitionException {
        byte[] bytes = bytes(file, MOST_BYTES);
        if (bytes.length > MOST_BYTES) {
            throw unreadable(
                    file, "the file is larger than 1 MB", "A definition is a small text; is this the right file?");
        }
        try {
            return StandardCharsets.UTF_8
                    .newDecoder()
                    .decode(ByteBuffer.wrap(bytes))
                    .toString();
        } catch (CharacterCodingException wrong) {
            throw unreadable(file, "the file is not UTF-8 text", "Save it as UTF-8");
        }
    }

    /** No more than one byte more than it may have. Links are followed as long as they stay in the folder. */
    private byte[] bytes(String file, int most) throws IOException, DefinitionException {
        Path path = folder.resolve(file);
        try {
            Path real = path.toRealPath();
            if (!real.startsWith(path.getParent().toRealPath())) {
                throw unreadable(
                        file,
                        "the file is a link that leads out of its folder, to " + real,
                        "Put the definition itself there");
            }
            try (InputStream in = Channels.newInputStream(OpenFolder.read(real))) {
                return in.readNBytes(most + 1);
            }
        } catch (OpenFolder.ReplacedException wrong) {
            throw unreadable(file, "it is not an ordinary file", "Remove it, or give it another ending than .yaml");
        } catch (AccessDeniedException wrong) {
            throw unreadable(
                    file, "the account that runs the service may not read the file", "Give it the right to read it");
        } catch (NoSuchFileException wrong) {
            throw unreadable(file, "the file is gone, or is a link that leads nowhere", "Put it back, or remove it");
        } catch (IOException wrong) {
            throw unreadable(file, "reading the file failed: " + wrong.getMessage(), "");
        }
    }

    private static DefinitionException unreadable(String file, String what, String hint) {
        return new DefinitionException(List.of(new Problem(file, 0, 0, what, hint)));
    }
}
