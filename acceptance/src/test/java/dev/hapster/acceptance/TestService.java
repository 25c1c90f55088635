package dev.hapster.acceptance;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.Hapster;
import dev.hapster.cli.http.Api;
import dev.hapster.core.crash.CrashPoint;
import dev.hapster.terminal.Screen;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.BindException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.logging.Logger;

/** The real service as a process on loopback, and the real client as a process that calls it. */
public final class TestService implements AutoCloseable {

    private static final Path HOME = Path.of("").toAbsolutePath().getParent();
    private static final String JAVA = ProcessHandle.current().info().command().orElse("java");

    private static final Logger LOG = Logger.getLogger(TestService.class.getName());

    private final Path workspace;
    private final int port;
    private final List<String> prefix;
    private final Path jar;
    private final List<String> options;
    private final Api api;
    private Process process;

    /** How a command of the client ended. */
    public record Result(int status, String out, String err) {}

    private TestService(Path workspace, List<String> prefix, Path jar, List<String> options) throws IOException {
        this.workspace = workspace;
        this.prefix = prefix;
        this.jar = jar;
        this.options = options;
        port = Ports.next();
        api = new Api(url());
    }

    /**
     * Ports that nobody else takes: below those that the system gives to outgoing connections, and other ones for each
     * process that tests.
     */
    private static final class Ports {
        private static final int FIRST = 20_000;
        private static final int PROCESSES = 120;
        private static final int EACH = 100;
        private static int count;

        static synchronized int next() throws IOException {
            int base = FIRST + (int) (ProcessHandle.current().pid() % PROCESSES) * EACH;
            for (int i = 0; i < EACH; i++) {
                int port = base + count++ % EACH;
                try (ServerSocket free = new ServerSocket(port, 1, InetAddress.getLoopbackAddress())) {
                    return free.getLocalPort();
                } catch (BindException taken) {
                    LOG.fine(() -> port + " is taken");
                }
            }
            throw new IOException("No port from " + base + " is free");
        }
    }

    public static TestService start(Path workspace, String... options) throws Exception {
        return start(workspace, List.of(), serviceJar(), options);
    }

    /** @param prefix words in front of the command, such as those that start it as another user */
    public static TestService start(Path workspace, List<String> prefix, Path jar, String... options) throws Exception {
        TestService service = new TestService(workspace, prefix, jar, List.of(options));
        service.startAgain();
        return service;
    }

    public static Path serviceJar() {
        return HOME.resolve("service/target/app/hapster-service-runner.jar");
    }

    public void startAgain() throws Exception {
        List<String> command = new ArrayList<>(prefix);
        command.addAll(List.of(
                JAVA,
                "-Xmx512m",
                "-XX:+UseSerialGC",
                "-XX:TieredStopAtLevel=1",
                "-Xshare:auto",
                "-XX:SharedArchiveFile=" + Archive.FILE,
                "-Dhapster.workspace=" + workspace,
                "-Dquarkus.http.port=" + port));
        command.addAll(options);
        command.addAll(List.of("-jar", jar.toString()));
        Path log = workspace.resolve("service-test.log");
        process = new ProcessBuilder(command)
                .redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.appendTo(log.toFile()))
                .start();
        for (int i = 0; !api.isUp(); i++) {
            if (!process.isAlive() || i > 600) {
                throw new IllegalStateException("The service did not start:\n" + Files.readString(log));
            }
            Thread.sleep(50);
        }
    }

    /**
     * The service's classes as the virtual machine wants them, so that each start is quicker; made by the first start
     * of a test run.
     */
    private static final class Archive {
        static final Path FILE = make();

        private static Path make() {
            Path archive = Path.of("target/service.jsa").toAbsolutePath();
            try {
                if (Files.exists(archive)
                        && Files.getLastModifiedTime(archive).compareTo(Files.getLastModifiedTime(serviceJar())) > 0) {
                    return archive;
                }
                Path fresh = archive.resolveSibling(
                        "service-" + ProcessHandle.current().pid() + ".jsa");
                Path workspace = Files.createTempDirectory("hapster-warm-up");
                Process process = new ProcessBuilder(
                                JAVA,
                                "-XX:ArchiveClassesAtExit=" + fresh,
                                "-Dhapster.ends-with-input=true",
                                "-Dhapster.workspace=" + workspace,
                                "-Dquarkus.http.port=0",
                                "-jar",
                                serviceJar().toString())
                        .redirectErrorStream(true)
                        .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                        .start();
                process.getOutputStream().close();
                if (!process.waitFor(2, TimeUnit.MINUTES)) {
                    process.destroyForcibly();
                }
                if (Files.exists(fresh)) { // another process of the tests may have been first
                    Files.move(fresh, archive, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
                }
                return archive;
            } catch (IOException | InterruptedException wrong) {
                throw new IllegalStateException(wrong);
            }
        }
    }

    public String url() {
        return "http://127.0.0.1:" + port;
    }

    public Api api() {
        return api;
    }

    public JsonNode get(String path) {
        return api().get(path);
    }

    /** What is wrong with the store. */
    public JsonNode problems() {
        return get("/store").path("problems");
    }

    public JsonNode post(String path) {
        return api().post(path, null);
    }

    public long pid() {
        return process.pid();
    }

    /** Starts a run and waits for its end; the run as the service gives it. */
    public JsonNode run(String job) throws Exception {
        long number = post("/jobs/" + job + "/runs").path("run").asLong();
        return await(number);
    }

    /** Starts a run with a body of one's own, and waits for its end. */
    public JsonNode run(String path, String body) throws Exception {
        return await(api().post(path, Api.JSON.readTree(body)).path("run").asLong());
    }

    /** Starts a run and waits until it stands still at a moment; what makes it go on again. */
    public Path runUpTo(CrashPoint moment, String job, Path pauses) throws Exception {
        Files.createFile(pauses.resolve(moment.name()));
        post("/jobs/" + job + "/runs");
        Path reached = pauses.resolve(moment + ".reached");
        for (int i = 0; !Files.exists(reached); i++) {
            if (i > 3000) {
                throw new IllegalStateException("The run does not come to " + moment);
            }
            Thread.sleep(10);
        }
        return reached;
    }

    public JsonNode await(long number) throws Exception {
        JsonNode run = get("/runs/" + number);
        while (run.path("endedAt").isMissingNode()) {
            Thread.sleep(20);
            run = get("/runs/" + number);
        }
        return run;
    }

    /** The same where the output goes into a pipe, and nobody named a width. */
    public Result piped(String... arguments) {
        return client(null, arguments);
    }

    /** Runs a command of the client against this service, without a process of its own, 100 columns wide. */
    public Result client(String... arguments) {
        return client("100", arguments);
    }

    private Result client(String columns, String... arguments) {
        List<String> command = new ArrayList<>(List.of("--service", url()));
        command.addAll(List.of(arguments));
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        ByteArrayOutputStream err = new ByteArrayOutputStream();
        int status = Hapster.run(new Screen(out, err, "", columns), command.toArray(String[]::new));
        return new Result(status, out.toString(StandardCharsets.UTF_8), err.toString(StandardCharsets.UTF_8));
    }

    /** The same as a process, run in a folder. */
    public Result clientIn(Path folder, String... arguments) throws Exception {
        List<String> command = new ArrayList<>(List.of("--service", url()));
        command.addAll(List.of(arguments));
        return client(folder, List.of(), command);
    }

    /** Runs the client as a process, as the start script does. */
    public static Result client(List<String> jvm, List<String> arguments) throws Exception {
        return client(Path.of(""), jvm, arguments);
    }

    /** The same as a process that goes on. */
    public Process clientProcess(String... arguments) throws Exception {
        List<String> command = new ArrayList<>(List.of("--service", url()));
        command.addAll(List.of(arguments));
        return process(Path.of(""), List.of(), command);
    }

    private static Process process(Path folder, List<String> jvm, List<String> arguments) throws IOException {
        List<String> command =
                new ArrayList<>(List.of(JAVA, "-XX:TieredStopAtLevel=1", "-Dhapster.service.jar=" + serviceJar()));
        command.addAll(jvm);
        command.addAll(List.of("-cp", System.getProperty("java.class.path"), "dev.hapster.cli.Hapster"));
        command.addAll(arguments);
        ProcessBuilder builder =
                new ProcessBuilder(command).directory(folder.toAbsolutePath().toFile());
        builder.environment().put("COLUMNS", "100");
        builder.environment().remove("HAPSTER_TTY");
        Process client = builder.start();
        client.getOutputStream().close();
        return client;
    }

    private static Result client(Path folder, List<String> jvm, List<String> arguments) throws Exception {
        Process client = process(folder, jvm, arguments);
        ByteArrayOutputStream err = new ByteArrayOutputStream();
        Thread errors = new Thread(() -> {
            try {
                client.getErrorStream().transferTo(err);
            } catch (IOException closed) {
                throw new java.io.UncheckedIOException(closed);
            }
        });
        errors.start();
        String out = new String(client.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        errors.join();
        client.waitFor();
        return new Result(client.exitValue(), out, err.toString(StandardCharsets.UTF_8));
    }

    /** As {@code kill -9}: no chance to put anything in order. */
    public void kill() throws InterruptedException {
        process.destroyForcibly();
        process.waitFor();
    }

    @Override
    public void close() {
        process.destroy();
        try {
            if (!process.waitFor(20, TimeUnit.SECONDS)) {
                kill();
            }
        } catch (InterruptedException stopped) {
            process.destroyForcibly();
            Thread.currentThread().interrupt();
        }
    }
}
