package dev.hapster.acceptance.bench;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.cli.http.Api;
import dev.hapster.cli.http.ServiceProcess;
import java.io.IOException;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * What a start takes: of the client beside an empty virtual machine, of the service beside an empty application of the
 * same extensions, in turn. Both start as {@code ./hapster} starts them, with archives of their classes. Run by
 * {@code ./dev bench Start}.
 */
@Tag("benchmark")
class StartBenchmark {

    private static final int TURNS = 5;
    private static final int FILES = 10_000;
    private static final int RUNS = 1_000;
    private static final Path HOME = Path.of("..").toAbsolutePath().normalize();
    private static final String JAVA = ProcessHandle.current().info().command().orElse("java");

    @TempDir
    private static Path folder;

    @BeforeAll
    static void archives() throws Exception {
        run(List.of(
                "bash",
                "-c",
                "home='" + HOME + "'; state='" + Files.createDirectories(folder.resolve("state"))
                        + "'; . \"$home/build-tools/common.sh\"; archive_classes '" + JAVA + "'"));
        assertThat(folder.resolve("state/client.jsa")).exists();
        assertThat(folder.resolve("state/service.jsa")).exists();
    }

    private static void run(List<String> command) throws Exception {
        Path log = folder.resolve("log");
        int status = new ProcessBuilder(command)
                .redirectErrorStream(true)
                .redirectOutput(log.toFile())
                .start()
                .waitFor();
        assertThat(status).as(Files.readString(log)).isZero();
    }

    private static double seconds(List<String> command) throws Exception {
        long began = System.nanoTime();
        run(command);
        return (System.nanoTime() - began) / 1e9;
    }

    @Test
    void theClientStartsBesideAnEmptyMachine() throws Exception {
        List<String> small = List.of(JAVA, "-XX:TieredStopAtLevel=1", "-XX:+UseSerialGC");
        List<String> nothing = new ArrayList<>(small);
        Files.createDirectories(folder.resolve("nothing"));
        Files.writeString(
                folder.resolve("nothing/Nothing.java"),
                "public class Nothing { public static void main(String[] arguments) {} }");
        run(List.of(
                Path.of(JAVA).resolveSibling("javac").toString(),
                "-d",
                folder.resolve("nothing").toString(),
                folder.resolve("nothing/Nothing.java").toString()));
        nothing.addAll(List.of("-cp", folder.resolve("nothing").toString(), "Nothing"));
        Path workspace = Workspaces.demo(folder.resolve("demo"));
        try (TestService service = TestService.start(workspace)) {
            List<String> client = new ArrayList<>(small);
            client.addAll(List.of(
                    "-XX:SharedArchiveFile=" + folder.resolve("state/client.jsa"),
                    "-Xmx256m",
                    "-jar",
                    HOME.resolve("cli/target/hapster-cli.jar").toString(),
                    "--service",
                    service.url()));
            double empty = Double.MAX_VALUE;
            for (String command : List.of("jobs", "find north-lab", "datasets")) {
                List<String> call = new ArrayList<>(client);
                call.addAll(List.of(command.split(" ")));
                double called = Double.MAX_VALUE;
                for (int i = 0; i < TURNS; i++) {
                    empty = Math.min(empty, seconds(nothing));
                    called = Math.min(called, seconds(call));
                }
                System.out.printf(
                        Locale.ROOT,
                        "%nhapster %s: %.2f s, an empty virtual machine %.3f s; ratio %.1f%n",
                        command,
                        called,
                        empty,
                        called / empty);
                assertThat(called / empty).isLessThan(10);
            }
        }
    }

    @Test
    void theServiceStartsBesideAnEmptyApplication() throws Exception {
        Path empty = emptyApplication();
        Path fresh = Workspaces.small(folder.resolve("fresh"));
        Path used = used(folder.resolve("used"));
        double without = Double.MAX_VALUE;
        double ofFresh = Double.MAX_VALUE;
        double ofUsed = Double.MAX_VALUE;
        for (int i = 0; i < TURNS; i++) {
            without = Math.min(without, ready(List.of("-Dfolder=" + folder, "-jar", empty.toString())));
            ofFresh = Math.min(ofFresh, ready(service(fresh)));
            ofUsed = Math.min(ofUsed, ready(service(used)));
        }
        System.out.printf(
                Locale.ROOT,
                "%nService ready after %.2f s, with %,d runs and %,d files after %.2f s; an empty application of the "
                        + "same extensions %.2f s; ratios %.2f, %.2f%n",
                ofFresh,
                RUNS,
                FILES,
                ofUsed,
                without,
                ofFresh / without,
                ofUsed / without);
        assertThat(ofUsed / without).isLessThan(1.5);
    }

    private static List<String> service(Path workspace) {
        return List.of(
                "-XX:SharedArchiveFile=" + folder.resolve("state/service.jsa"),
                "-Dhapster.workspace=" + workspace,
                "-jar",
                TestService.serviceJar().toString());
    }

    /** A workspace with many files in it, and many runs behind it. */
    private static Path used(Path workspace) throws Exception {
        Workspaces.small(workspace);
        Workspaces.write(workspace, "datasets/others.yaml", Workspaces.DATASET.replace("samples", "others"));
        Workspaces.write(
                workspace, "jobs/idle.yaml", "job: idle\ninto: others\nfind: [{folder: none, take: \"*.csv\"}]\n");
        Files.createDirectories(workspace.resolve("none"));
        for (int i = 0; i < FILES; i++) {
            Workspaces.write(workspace, "in/f" + i + ".csv", "id,day,value\na" + i + ",2026-01-01,1\n");
        }
        try (TestService service = TestService.start(workspace)) {
            assertThat(service.run("small").path("files").path("loaded").asLong())
                    .isEqualTo(FILES);
            for (int i = 1; i < RUNS; i++) {
                service.run("idle");
            }
        }
        return workspace;
    }

    private static double ready(List<String> program) throws Exception {
        int port;
        try (ServerSocket any = new ServerSocket(0)) {
            port = any.getLocalPort();
        }
        List<String> command = new ArrayList<>(List.of(JAVA, "-Dquarkus.http.port=" + port));
        command.addAll(ServiceProcess.JAVA_OPTIONS);
        command.addAll(program);
        Api api = new Api("http://127.0.0.1:" + port);
        long began = System.nanoTime();
        Process process = new ProcessBuilder(command)
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("service.log").toFile())
                .start();
        try {
            while (!api.isUp()) {
                assertThat(process.isAlive())
                        .as(Files.readString(folder.resolve("service.log")))
                        .isTrue();
                Thread.sleep(10);
            }
            return (System.nanoTime() - began) / 1e9;
        } finally {
            process.destroy();
            process.waitFor();
        }
    }

    /** Builds an application of the service's extensions that has one table and one call; gives its jar. */
    private static Path emptyApplication() throws Exception {
        String parent = Files.readString(HOME.resolve("pom.xml"));
        String version = parent.replaceAll("(?s).*<quarkus.version>(.*?)</quarkus.version>.*", "$1");
        StringBuilder extensions = new StringBuilder();
        Matcher extension = Pattern.compile("<artifactId>(quarkus-(?!junit|maven)[a-z0-9-]+)</artifactId>")
                .matcher(Files.readString(HOME.resolve("service/pom.xml")));
        while (extension.find()) {
            extensions.append(dependency(extension.group(1), "")).append('\n');
        }
        Path project = folder.resolve("empty");
        write(
                project.resolve("pom.xml"),
                """
                <project xmlns="http://maven.apache.org/POM/4.0.0">
                  <modelVersion>4.0.0</modelVersion>
                  <groupId>bench</groupId><artifactId>empty</artifactId><version>1</version>
                  <properties><maven.compiler.release>17</maven.compiler.release></properties>
                  <dependencyManagement><dependencies>BOM</dependencies></dependencyManagement>
                  <dependencies>EXTENSIONS</dependencies>
                  <build><plugins>
                    <plugin><artifactId>maven-compiler-plugin</artifactId><version>3.14.0</version></plugin>
                    <plugin><groupId>io.quarkus.platform</groupId><artifactId>quarkus-maven-plugin</artifactId>
                      <version>VERSION</version><executions><execution><goals><goal>build</goal></goals></execution></executions>
                    </plugin>
                  </plugins></build>
                </project>
                """
                        .replace(
                                "BOM",
                                dependency(
                                                "quarkus-bom",
                                                "<version>VERSION</version><type>pom</type><scope>import</scope>")
                                        .replace("io.quarkus<", "io.quarkus.platform<"))
                        .replace("EXTENSIONS", extensions)
                        .replace("VERSION", version));
        write(
                project.resolve("src/main/java/Thing.java"),
                "@jakarta.persistence.Entity public class Thing { @jakarta.persistence.Id public Long id; }");
        write(
                project.resolve("src/main/java/Hello.java"),
                "@jakarta.ws.rs.Path(\"/hello\") public class Hello { @jakarta.ws.rs.GET public String hello() "
                        + "{ return \"hello\"; } }");
        write(
                project.resolve("src/main/resources/application.properties"),
                """
                quarkus.banner.enabled=false
                quarkus.http.host=127.0.0.1
                quarkus.datasource.db-kind=h2
                quarkus.datasource.jdbc.url=jdbc:h2:file:${folder:.}/empty-catalogue
                quarkus.hibernate-orm.schema-management.strategy=none
                quarkus.flyway.migrate-at-start=true
                quarkus.smallrye-health.root-path=/health
                quarkus.log.level=WARN
                """);
        write(
                project.resolve("src/main/resources/db/migration/V1__thing.sql"),
                "CREATE TABLE Thing (id BIGINT PRIMARY KEY);");
        run(List.of("mvn", "-B", "-ntp", "-q", "-f", project.resolve("pom.xml").toString(), "package", "-DskipTests"));
        return project.resolve("target/quarkus-app/quarkus-run.jar");
    }

    private static String dependency(String artifact, String rest) {
        return "<dependency><groupId>io.quarkus</groupId><artifactId>" + artifact + "</artifactId>" + rest
                + "</dependency>";
    }

    private static void write(Path file, String text) throws IOException {
        Files.createDirectories(file.getParent());
        Files.writeString(file, text);
    }
}
