package dev.hapster.service.notify;

import dev.hapster.core.definition.AccountDef;
import dev.hapster.core.definition.AccountDef.Web;
import dev.hapster.core.workspace.Secrets;
import io.cloudevents.CloudEvent;
import io.cloudevents.core.builder.CloudEventBuilder;
import io.cloudevents.core.format.EventSerializationException;
import io.cloudevents.jackson.JsonCloudEventData;
import io.cloudevents.jackson.JsonFormat;
import java.io.IOException;
import java.net.ConnectException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.HttpTimeoutException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.time.Clock;
import java.time.Duration;
import java.time.ZoneOffset;
import java.util.Base64;
import java.util.Optional;
import java.util.Set;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/**
 * Calls an address over HTTP with a CloudEvent (CloudEvents 1.0, JSON format, structured mode). Where the account has a
 * key, the call is signed with HMAC-SHA256 over id, time and body, in the headers of the Standard Webhooks
 * specification. What is answered is not looked at but for its status; nobody is followed elsewhere.
 */
final class WebSender {

    private static final Duration PATIENCE = Duration.ofSeconds(20);
    private static final int FIRST_FAILURE = 300;
    /** Statuses by which a server says that it takes nothing at the moment, or nothing from us. */
    private static final Set<Integer> BUSY = Set.of(401, 403, 407, 429, 502, 503, 504);

    private static final String ENCODED = "whsec_";

    private final Clock clock;
    private final HttpClient client = HttpClient.newBuilder()
            .connectTimeout(PATIENCE)
            .followRedirects(HttpClient.Redirect.NEVER)
            .version(HttpClient.Version.HTTP_1_1)
            .build();

    WebSender(Clock clock) {
        this.clock = clock;
    }

    /** @param source of the event: the service's own address */
    void send(AccountDef account, Web web, Path workspace, Message message, String source) throws SendException {
        byte[] body = event(message, source);
        String time = String.valueOf(clock.instant().getEpochSecond());
        HttpRequest.Builder request = HttpRequest.newBuilder(web.url())
                .timeout(PATIENCE)
                .header("Content-Type", "application/cloudevents+json; charset=UTF-8")
                .header("User-Agent", "Hapster")
                .header("webhook-id", message.id())
                .header("webhook-timestamp", time)
                .POST(HttpRequest.BodyPublishers.ofByteArray(body));
        try {
            Optional<String> key = secret(account, web.key(), "key", workspace);
            if (key.isPresent()) {
                String signed = message.id() + "." + time + "." + new String(body, StandardCharsets.UTF_8);
                request.header("webhook-signature", "v1," + signature(key.get(), signed));
            }
            secret(account, web.token(), "token", workspace)
                    .ifPresent(token -> request.header("Authorization", "Bearer " + token));
            HttpResponse<Void> answer = client.send(request.build(), HttpResponse.BodyHandlers.discarding());
            if (answer.statusCode() >= FIRST_FAILURE) {
                throw new SendException(
                        web + " answers with status " + answer.statusCode() + " instead of 2xx",
                        BUSY.contains(answer.statusCode()));
            }
        } catch (HttpTimeoutException slow) {
            throw new SendException(web + " does not answer within " + PATIENCE.toSeconds() + " seconds", true, slow);
        } catch (ConnectException nobody) {
            throw new SendException(web + " cannot be reached", true, nobody);
        } catch (IOException wrong) {
            throw new SendException(web + " cannot be reached: " + wrong.getMessage(), true, wrong);
        } catch (IllegalArgumentException wrong) {
            throw new SendException("The call to " + web + " cannot be made: " + wrong.getMessage(), true, wrong);
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
            throw new SendException("The service is being stopped", true, stopped);
        }
    }

    private byte[] event(Message message, String source) throws SendException {
        try {
            CloudEvent event = CloudEventBuilder.v1()
                    .withId(message.id())
                    .withSource(URI.create(source))
                    .withType(message.type())
                    .withSubject(message.about())
                    .withTime(message.at().atOffset(ZoneOffset.UTC))
                    .withData("application/json", JsonCloudEventData.wrap(message.data()))
                    .build();
            return new JsonFormat().serialize(event);
        } catch (EventSerializationException wrong) {
            throw new SendException(
                    "The message cannot be written as a CloudEvent: " + wrong.getMessage(), false, wrong);
        }
    }

    private static Optional<String> secret(
            AccountDef account, Optional<AccountDef.Secret> secret, String what, Path workspace)
            throws SendException, IOException {
        if (secret.isEmpty()) {
            return Optional.empty();
        }
        try {
            return Optional.of(
                    Secrets.read(secret.get(), "The " + what + " of the account " + account.name(), workspace));
        } catch (Secrets.MissingException missing) {
            throw new SendException(missing.getMessage(), true, missing);
        }
    }

    /**
     * @param key as it stands; what begins with {@code whsec_} is Base64, as that specification writes keys
     * @throws IllegalArgumentException where that is no Base64
     */
    private static String signature(String key, String text) {
        byte[] bytes = key.startsWith(ENCODED)
                ? Base64.getDecoder().decode(key.substring(ENCODED.length()))
                : key.getBytes(StandardCharsets.UTF_8);
        try {
            Mac mac = Mac.getInstance("HmacSHA256");
            mac.init(new SecretKeySpec(bytes, "HmacSHA256"));
            return Base64.getEncoder().encodeToString(mac.doFinal(text.getBytes(StandardCharsets.UTF_8)));
        } catch (GeneralSecurityException never) {
            throw new IllegalStateException("Java has no HmacSHA256", never);
        }
    }
}
