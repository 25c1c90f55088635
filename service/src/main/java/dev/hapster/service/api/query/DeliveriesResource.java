package dev.hapster.service.api.query;

import com.fasterxml.jackson.annotation.JsonInclude;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.DeliveryDef;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.deliver.Handover;
import dev.hapster.core.deliver.Handover.Change;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.access.CallLimits;
import dev.hapster.service.catalogue.StoredDeliveries;
import dev.hapster.service.catalogue.record.DeliveryRecord;
import dev.hapster.service.deliver.Deliveries;
import dev.hapster.service.deliver.Deliveries.Changed;
import io.smallrye.common.annotation.Blocking;
import io.vertx.ext.web.RoutingContext;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.NotFoundException;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.Context;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;

/** Deliveries that are declared with datasets. */
@Path("/api/v1/datasets/{dataset}/deliveries")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "datasets")
@Blocking
public class DeliveriesResource {

    private static final int MOST_SHOWN = 100;
    /** The format of what is no file. */
    private static final String TABLE = "table";

    private final Workspace workspace;
    private final Deliveries deliveries;
    private final StoredDeliveries records;
    private final CallLimits limits;

    DeliveriesResource(Workspace workspace, Deliveries deliveries, StoredDeliveries records, CallLimits limits) {
        this.workspace = workspace;
        this.deliveries = deliveries;
        this.records = records;
        this.limits = limits;
    }

    /**
     * A delivery.
     *
     * @param to the file, the pattern of files, or the table and the account that leads to it
     * @param format what is written; {@code table} for a table
     * @param declared whether the dataset's file still declares it; if not, its files stay as they are
     * @param eachRun whether it is done after each run, and after an undo or a removal
     * @param files how many files it has there; for a table, of how many files it has the rows
     * @param last how it went when something became of it last; absent where it was never done
     * @param nextTry when it is tried again by itself, where it failed; absent where it waits for somebody, or for rows
     *     that change
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record DeliveryView(
            String name,
            String about,
            String to,
            String format,
            boolean declared,
            boolean eachRun,
            long files,
            HandoverView last,
            Instant nextTry) {}

    /**
     * How a delivery went.
     *
     * @param number under which it is found
     * @param run the entry of the history after which it was done; absent where somebody called for it, or at a start
     * @param state {@code queued}, {@code done} or {@code failed}
     * @param rows in all its files
     * @param bytes of all its files
     * @param written files that were not there or have other rows now; for a table, files of which it got the rows
     * @param failure why it failed
     * @param notes what deserves attention, a sentence each
     * @param changed the files that were written, removed or left; the first 1,000
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record HandoverView(
            long number,
            Long run,
            String state,
            Instant queuedAt,
            Instant endedAt,
            long rows,
            long bytes,
            int written,
            int unchanged,
            int removed,
            String failure,
            List<String> notes,
            List<Changed> changed) {}

    /**
     * A file that is there.
     *
     * @param path relative to the workspace where it lies below it
     * @param checksum SHA-256
     */
    public record ProductView(String path, long rows, long bytes, Instant modified, String checksum) {}

    /**
     * A delivery with its history.
     *
     * @param history the last 100 times, newest first
     * @param products its files as it left them
     */
    public record DeliveryDetail(DeliveryView delivery, List<HandoverView> history, List<ProductView> products) {}

    @GET
    public List<DeliveryView> deliveries(String dataset) throws IOException, DefinitionException, UnknownNameException {
        DatasetDef def = workspace.dataset(dataset);
        List<DeliveryView> views = new ArrayList<>();
        for (DeliveryDef delivery : def.deliveries()) {
            views.add(view(dataset, delivery));
        }
        records.withFiles(dataset).stream()
                .filter(name -> def.deliveries().stream()
                        .noneMatch(declared -> declared.name().equals(name)))
                .forEach(name -> views.add(view(dataset, name, "", "", "", false, false)));
        return views;
    }

    private DeliveryView view(String dataset, DeliveryDef delivery) {
        return view(
                dataset,
                delivery.name(),
                delivery.about(),
                delivery.to().toString(),
                delivery.to().format(),
                true,
                delivery.eachRun());
    }

    private DeliveryView view(
            String dataset, String name, String about, String to, String format, boolean declared, boolean eachRun) {
        Optional<DeliveryRecord> last =
                records.latest(dataset, name, 1).stream().findFirst();
        long files = format.equals(TABLE)
                ? last.map(record -> (long) record.written + record.unchanged).orElse(0L)
                : records.products(dataset, name).size();
        return new DeliveryView(
                name,
                about,
                to,
                format,
                declared,
                eachRun,
                files,
                last.map(this::view).orElse(null),
                deliveries.next(dataset, name).orElse(null));
    }

    private HandoverView view(DeliveryRecord record) {
        return new HandoverView(
                record.id,
                record.run,
                record.state.name().toLowerCase(Locale.ROOT),
                record.queuedAt,
                record.endedAt,
                record.rows,
                record.bytes,
                record.written,
                record.unchanged,
                record.removed,
                record.failure,
                record.notes == null || record.notes.isEmpty()
                        ? List.of()
                        : record.notes.lines().toList(),
                deliveries.changed(record));
    }

    @GET
    @Path("/{delivery}")
    public DeliveryDetail delivery(String dataset, String delivery)
            throws IOException, DefinitionException, UnknownNameException {
        List<DeliveryView> all = deliveries(dataset);
        DeliveryView view = all.stream()
                .filter(one -> one.name().equals(delivery))
                .findFirst()
                .orElseThrow(() -> UnknownNameException.delivery(
                        dataset, delivery, all.stream().map(DeliveryView::name).toList()));
        return new DeliveryDetail(
                view,
                records.latest(dataset, delivery, MOST_SHOWN).stream()
                        .map(this::view)
                        .toList(),
                records.products(dataset, delivery).values().stream()
                        .map(products -> products.get(products.size() - 1))
                        .map(product -> new ProductView(
                                records.shown(product.path()),
                                product.rows(),
                                product.bytes(),
                                product.modified(),
                                product.checksum()))
                        .sorted(Comparator.comparing(ProductView::path))
                        .toList());
    }

    /** Under which a delivery that was called for is found. */
    public record Called(long number) {}

    /** Has a delivery done, as soon as those before it are. */
    @POST
    @Path("/{delivery}")
    public Called deliver(String dataset, String delivery)
            throws IOException, DefinitionException, UnknownNameException, QueryException {
        return new Called(deliveries.call(dataset, delivery));
    }

    /** One time that a delivery was done, or is to be done. */
    @GET
    @Path("/{delivery}/{number}")
    public HandoverView handover(String dataset, String delivery, long number) {
        return records.delivery(number)
                .filter(record -> record.dataset.equals(dataset) && record.name.equals(delivery))
                .map(this::view)
                .orElseThrow(() -> new NotFoundException(
                        "The delivery " + delivery + " of " + dataset + " was never done under number " + number));
    }

    /** What a delivery would do. Bytes and checksums of files that would be written are not known. */
    @POST
    @Path("/{delivery}/trial")
    public HandoverView trial(String dataset, String delivery, @Context RoutingContext call)
            throws IOException, DefinitionException, UnknownNameException, QueryException {
        limits.takeLongAnswer(call);
        Handover would = deliveries.trial(dataset, delivery);
        return new HandoverView(
                0,
                null,
                "trial",
                null,
                null,
                would.rows(),
                would.bytes(),
                (int) would.count(Change.WRITTEN),
                (int) would.count(Change.UNCHANGED),
                (int) would.count(Change.REMOVED),
                null,
                would.notes(),
                deliveries.changed(would));
    }
}
