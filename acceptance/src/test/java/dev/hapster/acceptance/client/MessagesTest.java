package dev.hapster.acceptance.client;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.GreenMailUtil;
import com.icegreen.greenmail.util.ServerSetup;
import com.sun.net.httpserver.HttpServer;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.TestService.Result;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.cli.http.Api;
import jakarta.mail.MessagingException;
import jakarta.mail.internet.MimeMessage;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.YearMonth;
import java.time.ZoneOffset;
import java.util.Arrays;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Queue;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.BooleanSupplier;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Who is told of runs and arrivals, by mail and over HTTP, through faults and kills. */
class MessagesTest {

    private static final String KEY = "a key that nobody else knows";

    @TempDir
    private Path workspace;

    private TestService service;
    private GreenMail mail;
    private HttpServer web;
    private final AtomicInteger status = new AtomicInteger(200);

    private record Call(Map<String, List<String>> headers, String body) {
        String header(String name) {
            return headers.get(name).get(0);
        }
    }

    private final Queue<Call> calls = new ConcurrentLinkedQueue<>();

    @BeforeEach
    void make() throws Exception {
        Workspaces.small(workspace);
        mail = new GreenMail(new ServerSetup(free(), "127.0.0.1", ServerSetup.PROTOCOL_SMTP));
        mail.setUser("hapster", "open sesame");
        mail.start();
        web = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        web.createContext("/told", exchange -> {
            String body = new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
            calls.add(new Call(exchange.getRequestHeaders(), body));
            exchange.sendResponseHeaders(status.get(), -1);
            exchange.close();
        });
        web.start();
        Workspaces.write(workspace, "secrets", "open sesame\n");
        Workspaces.write(workspace, "key", KEY + "\n");
        accounts(mail.getSmtp().getPort());
        Workspaces.write(
                workspace,
                "notify.yaml",
                "notify:\n  - {by: alarms, on: run, jobs: ['lab*']}\n  - {by: office, to: all@vessa.example, jobs: other}\n");
        job("{by: office, to: [mira@vessa.example, duty@vessa.example]}");
    }

    private void accounts(int port) throws Exception {
        Workspaces.write(
                workspace,
                "accounts.yaml",
                "accounts:\n  - name: office\n    mail: {host: 127.0.0.1, port: " + port
                        + ", from: hapster@vessa.example, user: hapster, password: {file: secrets}}\n"
                        + "  - {name: alarms, http: {url: 'http://127.0.0.1:"
                        + web.getAddress().getPort() + "/told?room=4', key: {file: key}}}\n");
    }

    private void job(String notices) throws Exception {
        Workspaces.write(
                workspace,
                "jobs/labs.yaml",
                "job: labs\ninto: samples\nfind: [{folder: in, settle: 0s, take: '{month:yyyy-MM}.csv'}]\nrejects: {run_at: 1 file}\n"
                        + "due: {each: month, by: last day, from: "
                        + YearMonth.now(ZoneOffset.UTC).minusMonths(3) + ", zone: UTC}\nnotify: [" + notices + "]\n");
    }

    private static int free() throws Exception {
        try (ServerSocket socket = new ServerSocket(0)) {
            return socket.getLocalPort();
        }
    }

    private void start() throws Exception {
        service = TestService.start(workspace, "-Dhapster.message-pause=300", "-Dhapster.calendar-look=300");
    }

    @AfterEach
    void stop() {
        if (service != null) {
            service.close();
        }
        mail.stop();
        web.stop(0);
    }

    private void file(YearMonth month, String rows) throws Exception {
        Workspaces.write(workspace, "in/" + month + ".csv", "id,day,value\n" + rows);
    }

    private static void await(BooleanSupplier met) throws Exception {
        Instant end = Instant.now().plus(Duration.ofSeconds(20));
        while (!met.getAsBoolean()) {
            assertThat(Instant.now()).isBefore(end);
            Thread.sleep(50);
        }
    }

    private boolean sent(int letters, int called) {
        return mail.getReceivedMessages().length == letters && calls.size() == called;
    }

    private static String text(MimeMessage letter) {
        return GreenMailUtil.getBody(letter).replace("=\r\n", "");
    }

    @Test
    void whoIsToldOfWhat() throws Exception {
        start();
        YearMonth old = YearMonth.now(ZoneOffset.UTC).minusMonths(3);
        file(old, "a,2026-01-01,1\nb,2026-01-01,x\n");
        service.client("run", "labs");
        await(() -> sent(4, 1)); // rejected, and since then missing: the two months after it; each to two
        MimeMessage rejected = Arrays.stream(mail.getReceivedMessages())
                .filter(letter -> subject(letter).equals("Hapster: labs: run 1 rejected 1 row"))
                .findFirst()
                .orElseThrow();
        assertThat(rejected.getHeader("Auto-Submitted")).containsExactly("auto-generated");
        assertThat(text(rejected))
                .contains("labs")
                .contains("number-unreadable")
                .contains("holds")
                .contains(old + ".csv:3")
                .contains("/runs/1");
        assertThat(subjects()).anyMatch(subject -> subject.endsWith(" missing"));
        Call call = calls.remove();
        JsonNode event = Api.JSON.readTree(call.body());
        assertThat(event.path("specversion").asText()).isEqualTo("1.0");
        assertThat(event.path("type").asText()).isEqualTo("dev.hapster.run.ended");
        assertThat(event.path("data").path("run").path("rows").path("rejected").asLong())
                .isEqualTo(1);
        Mac mac = Mac.getInstance("HmacSHA256");
        mac.init(new SecretKeySpec(KEY.getBytes(StandardCharsets.UTF_8), "HmacSHA256"));
        String signed = call.header("Webhook-id") + "." + call.header("Webhook-timestamp") + "." + call.body();
        assertThat(call.header("Webhook-signature"))
                .isEqualTo("v1,"
                        + Base64.getEncoder().encodeToString(mac.doFinal(signed.getBytes(StandardCharsets.UTF_8))));

        mail.purgeEmailFromAllMailboxes();
        service.client("run", "labs"); // nothing new is rejected
        await(() -> sent(0, 1));
        Files.write(workspace.resolve("in/2020-01.csv"), new byte[] {0, 1, 2, 3});
        service.client("run", "labs"); // stopped by the limit
        service.client("run", "labs"); // the same failure again
        Workspaces.write(workspace, "in/2020-01.csv", "id,day,value\nc,2026-01-01,1\n");
        service.client("run", "labs");
        await(() -> sent(4, 4));
        Thread.sleep(1500);
        Result listed = service.client("messages", "--job", "labs");
        assertThat(listed.out()).contains("labs: run").contains("office").contains("alarms");
        assertThat(listed.status()).isZero();
        assertThat(subjects())
                .as("what failed once is told once, and that it works again; to two people each")
                .hasSize(4)
                .anyMatch(subject -> subject.contains("run 3 stopped"))
                .anyMatch(subject -> subject.contains("after one that did not"));
        service.client("undo", "1"); // what was missing before the run is missing again, and told again
        await(() -> subjects().stream()
                        .filter(subject -> subject.equals("Hapster: labs: " + old + " missing"))
                        .count()
                == 2);
    }

    private List<String> subjects() {
        return Arrays.stream(mail.getReceivedMessages())
                .map(MessagesTest::subject)
                .toList();
    }

    private static String subject(MimeMessage letter) {
        try {
            return letter.getSubject();
        } catch (MessagingException wrong) {
            throw new IllegalStateException(wrong);
        }
    }

    @Test
    void nothingIsLostWhileServersAreDownAndTheServiceIsKilled() throws Exception {
        int port = mail.getSmtp().getPort();
        mail.stop();
        status.set(503);
        start();
        file(YearMonth.now(ZoneOffset.UTC), "a,2026-01-01,x\n");
        service.client("run", "labs");
        await(() -> service.get("/store").path("messages").size() == 2);
        assertThat(service.get("/store").path("messages").toString())
                .contains("by the account office cannot be sent")
                .contains("status 503");
        Result failing = service.client("messages");
        assertThat(failing.status()).isEqualTo(1);
        assertThat(failing.out() + failing.err())
                .doesNotContain("open sesame")
                .doesNotContain(KEY)
                .doesNotContain("room");
        service.kill();
        mail = new GreenMail(new ServerSetup(port, "127.0.0.1", ServerSetup.PROTOCOL_SMTP));
        mail.setUser("hapster", "open sesame");
        mail.start();
        calls.clear();
        status.set(204);
        service.startAgain();
        await(() -> mail.getReceivedMessages().length >= 2 && !calls.isEmpty());
        await(() -> service.get("/store").path("messages").isEmpty());
        assertThat(calls.stream().map(call -> call.header("Webhook-id")).distinct())
                .hasSize(1);

        Workspaces.write(workspace, "secrets", "wrong\n");
        Result tried = service.client("messages", "--try", "office", "--to", "mira@vessa.example");
        assertThat(tried.status()).isEqualTo(1);
        assertThat(tried.out().replaceAll("\\s+", " "))
                .contains("does not let hapster in")
                .contains("account office")
                .doesNotContain("wrong");
        Workspaces.write(workspace, "secrets", "open sesame\n");
        assertThat(service.client("messages", "--try", "office", "--to", "mira@vessa.example")
                        .out())
                .contains("a trial message")
                .contains("sent");
        assertThat(service.client("messages", "--try", "offices").err()).contains("Did you mean 'office'?");
    }

    @Test
    void mistakesAreSaidWithTheirPlaceAndADigestWaits() throws Exception {
        job("{by: office, to: mira, on: [faild], digest: '25:00'}");
        start();
        Result check = service.client("check", "labs");
        assertThat(check.out() + check.err())
                .contains("'mira' is not an address")
                .contains("Did you mean 'failed'?")
                .contains("'25:00' is not a time");
        Workspaces.write(workspace, "notify.yaml", "notify: [{to: mira@vessa.example}]\n");
        await(() -> service.get("/store").path("messages").toString().contains("notify.yaml:1"));
        Workspaces.write(workspace, "notify.yaml", "notify: []\n");
        job("{by: office, to: mira@vessa.example, digest: '03:00', on: run}");
        file(YearMonth.now(ZoneOffset.UTC), "a,2026-01-01,1\n");
        service.client("run", "labs");
        await(() -> service.get("/messages").size() == 1);
        assertThat(service.get("/messages").path(0).path("state").asText()).isEqualTo("waiting");
        assertThat(service.get("/messages").path(0).path("nextAt").asText()).contains(":00:00Z");
        assertThat(mail.getReceivedMessages()).isEmpty();
    }
}
