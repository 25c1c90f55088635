package dev.hapster.cli.http;

import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import java.io.File;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;

/** The service as a process of its own, which ends with this one. */
public final class ServiceProcess implements AutoCloseable {

    private static final int MOST_PORT = 65_535;

    private static final int SECONDS_TO_START = 60;

    /**
     * The virtual machine's options, unless HAPSTER_JAVA_OPTS names others: the heap begins small and keeps little for
     * new objects, so that memory that no longer counts is not held; and the optimizing compiler, which takes nearly
     * half of two cores where many small files are loaded, waits until code is ten times as much in use. Loops are
     * compiled as soon as ever. Measured in docs/benchmarks.md.
     */
    public static final List<String> JAVA_OPTIONS = List.of(
            "-Xms64m",
            "-Xmx512m",
            "-XX:MaxNewSize=96m",
            "-XX:+UseParallelGC",
            "-XX:Tier4InvocationThreshold=50000",
            "-XX:Tier4MinInvocationThreshold=6000",
            "-XX:Tier4CompileThreshold=150000");

    private final Process process;
    private final Api api;
    private final File log;

    private ServiceProcess(Process process, Api api, File log) {
        this.process = process;
        this.api = api;
        this.log = log;
        Runtime.getRuntime().addShutdownHook(new Thread(this::close));
    }

    /**
     * Starts the service and waits until it answers.
     *
     * @param address under which people reach it, for messages; empty for this machine's own
     * @param log where its log goes; null for standard error
     */
    public static ServiceProcess start(Path workspace, List<Path> roots, int port, Optional<String> address, Path log) {
        Path jar = Path.of(System.getProperty("hapster.service.jar", "service/target/app/hapster-service-runner.jar"));
        if (!Files.exists(jar)) {
            throw new ClientException(
                    ExitStatus.FAILED,
                    "The service is not built: " + jar
                            + " is missing. Start through the script ./hapster, which builds it.");
        }
        if (port < 1 || port > MOST_PORT) {
            throw new ClientException(
                    ExitStatus.WRONG_USE, "--port must be between 1 and " + MOST_PORT + ", not " + port);
        }
        if (!isFree(port)) {
            throw new ClientException(
                    ExitStatus.FAILED,
                    "Port " + port + " of this machine is in use. Stop what uses it, or name another with --port.");
        }
        List<String> command =
                new ArrayList<>(List.of(ProcessHandle.current().info().command().orElse("java")));
        command.addAll(javaOptions());
        Path archive = Path.of(System.getProperty("hapster.service.archive", "service.jsa"));
        if (Files.exists(archive)) { // made by the build; with it the classes are there in two thirds of the time
            command.addAll(List.of("-Xshare:auto", "-XX:SharedArchiveFile=" + archive));
        }
        command.add("-Dhapster.ends-with-input=true");
        command.add("-Dhapster.workspace=" + workspace);
        if (!roots.isEmpty()) {
            command.add("-Dhapster.roots="
                    + String.join(
                            ",",
                            roots.stream()
                                    .map(root -> root.toAbsolutePath()
                                            .normalize()
                                            .toString()
                                            .replace(",", "\\,"))
                                    .toList()));
        }
        command.add("-Dquarkus.http.port=" + port);
        address.ifPresent(url -> command.add("-Dhapster.address=" + url));
        command.addAll(List.of("-jar", jar.toString()));
        try {
            ProcessBuilder builder = new ProcessBuilder(command)
                    .redirectInput(ProcessBuilder.Redirect.PIPE)
                    .redirectOutput(ProcessBuilder.Redirect.DISCARD);
            builder.redirectError(
                    log == null ? ProcessBuilder.Redirect.INHERIT : ProcessBuilder.Redirect.to(log.toFile()));
            ServiceProcess service = new ServiceProcess(
                    builder.start(), new Api("http://127.0.0.1:" + port), log == null ? null : log.toFile());
            service.awaitUp();
            return service;
        } catch (IOException wrong) {
            throw new ClientException(ExitStatus.FAILED, "The service could not be started: " + wrong.getMessage());
        }
    }

    private static List<String> javaOptions() {
        String others = System.getenv("HAPSTER_JAVA_OPTS");
        if (others == null) {
            return JAVA_OPTIONS;
        }
        return others.isBlank() ? List.of() : List.of(others.strip().split("\\s+"));
    }

    private static boolean isFree(int port) {
        try (ServerSocket socket = new ServerSocket()) {
            socket.setReuseAddress(true);
            socket.bind(new InetSocketAddress(InetAddress.getLoopbackAddress(), port));
            return true;
        } catch (IOException taken) {
            return false;
        }
    }

    private void awaitUp() {
        long end = System.nanoTime() + TimeUnit.SECONDS.toNanos(SECONDS_TO_START);
        while (!api.isUp()) {
            if (!process.isAlive()) {
                throw new ClientException(ExitStatus.FAILED, "The service ended while it was starting" + told());
            }
            if (System.nanoTime() > end) {
                close();
                throw new ClientException(
                        ExitStatus.FAILED, "The service did not answer within " + SECONDS_TO_START + " s" + told());
            }
            pause(50);
        }
    }

    private String told() {
        if (log == null) {
            return "; its reason stands above.";
        }
        try {
            return ":\n" + Files.readString(log.toPath()).strip();
        } catch (IOException wrong) {
            return "; its log is " + log;
        }
    }

    private static void pause(int millis) {
        try {
            Thread.sleep(millis);
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
            throw new ClientException(ExitStatus.FAILED, "Interrupted.");
        }
    }

    public Api api() {
        return api;
    }

    /** Waits until the service ends; its exit status. */
    public int await() {
        try {
            return process.waitFor();
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
            return ExitStatus.FAILED;
        }
    }

    @Override
    public void close() {
        process.destroy();
        try {
            if (!process.waitFor(15, TimeUnit.SECONDS)) {
                process.destroyForcibly();
            }
        } catch (InterruptedException hurried) {
            process.destroyForcibly();
            Thread.currentThread().interrupt();
        }
    }
}
