package dev.hapster.service.api.messages;

import com.fasterxml.jackson.annotation.JsonInclude;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.service.catalogue.StoredMessages;
import dev.hapster.service.catalogue.record.MessageRecord;
import dev.hapster.service.notify.Messenger;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.BadRequestException;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.NotFoundException;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;

/** Messages by mail and HTTP: which were sent, and which cannot be. */
@Path("/api/v1/messages")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "messages")
@Blocking
public class MessagesResource {

    private static final int MOST = 1000;

    private final StoredMessages messages;
    private final Messenger messenger;
    private final Clock clock;

    MessagesResource(StoredMessages messages, Messenger messenger, Clock clock) {
        this.messages = messages;
        this.messenger = messenger;
        this.clock = clock;
    }

    /**
     * A message.
     *
     * @param id by which whoever gets it twice knows it again
     * @param job empty for a trial
     * @param event failed, rejected, late, missing, unusual, recovered, run or trial
     * @param run the run that it is about; absent where it is about none
     * @param to an address, for mail; absent for others
     * @param digest whether it is sent with others of the day
     * @param state waiting, sent or given_up
     * @param nextAt when it is sent, or tried again; absent once it is sent or given up
     * @param failure why it could not be sent the last time; absent where it was, or was not tried
     * @param text absent in lists
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record MessageView(
            long number,
            String id,
            String job,
            String event,
            Long run,
            String account,
            String to,
            String subject,
            boolean digest,
            String state,
            Instant madeAt,
            Instant nextAt,
            Instant endedAt,
            int tries,
            String failure,
            String text) {}

    private static MessageView view(MessageRecord message, boolean whole) {
        return new MessageView(
                message.id,
                message.uid,
                message.job,
                message.event,
                message.run,
                message.account,
                message.recipient.isEmpty() ? null : message.recipient,
                message.subject,
                message.digest,
                message.state.name().toLowerCase(Locale.ROOT),
                message.madeAt,
                message.state == MessageRecord.State.WAITING ? message.nextAt : null,
                message.endedAt,
                message.tries,
                message.failure,
                whole ? message.body : null);
    }

    /**
     * The latest messages, newest first.
     *
     * @param job only about this job
     */
    @GET
    public List<MessageView> messages(
            @QueryParam("job") String job, @QueryParam("limit") @DefaultValue("50") int limit) {
        return messages.latest(job, Math.max(1, Math.min(limit, MOST))).stream()
                .map(message -> view(message, false))
                .toList();
    }

    /** One of them, with its text. */
    @GET
    @Path("/{message}")
    public MessageView message(long message) {
        return view(
                messages.message(message).orElseThrow(() -> new NotFoundException("There is no message " + message)),
                true);
    }

    /**
     * Whom a trial message goes to.
     *
     * @param account of accounts.yaml
     * @param to an address, for mail; may be absent for others
     */
    public record TrialMessage(String account, String to) {}

    /** Sends a trial message, so that one sees whether an account works. */
    @POST
    @Path("/trial")
    public MessageView trial(TrialMessage request) throws IOException, DefinitionException, UnknownNameException {
        if (request == null || request.account() == null) {
            throw new BadRequestException("Name an account: {\"account\": \"office\", \"to\": \"mira@vessa.example\"}");
        }
        return view(messenger.trial(request.account(), request.to() == null ? "" : request.to()), false);
    }

    /**
     * How many messages are sent once more.
     *
     * @param messages those that had been given up
     */
    public record SentAgain(int messages) {}

    /** Has messages that were given up sent once more. */
    @POST
    @Path("/again")
    public SentAgain again() {
        return new SentAgain(messages.again(clock.instant()));
    }
}
