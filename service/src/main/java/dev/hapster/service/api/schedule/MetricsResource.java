package dev.hapster.service.api.schedule;

import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.run.load.RunState;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.service.api.schedule.CalendarViews.CalendarView;
import dev.hapster.service.catalogue.StoredRuns;
import dev.hapster.service.catalogue.record.RunRecord;
import io.prometheus.metrics.expositionformats.PrometheusTextFormatWriter;
import io.prometheus.metrics.model.snapshots.GaugeSnapshot;
import io.prometheus.metrics.model.snapshots.GaugeSnapshot.GaugeDataPointSnapshot;
import io.prometheus.metrics.model.snapshots.Labels;
import io.prometheus.metrics.model.snapshots.MetricSnapshots;
import io.prometheus.metrics.model.snapshots.Unit;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.ToDoubleFunction;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;

/** Numbers for programs that watch services, found out anew at each call, in the text format of Prometheus. */
@Path("/api/v1/metrics")
@Tag(name = "store")
@Blocking
public class MetricsResource {

    private final StoredRuns records;
    private final CalendarViews calendars;

    MetricsResource(StoredRuns records, CalendarViews calendars) {
        this.records = records;
        this.calendars = calendars;
    }

    /** How the last run of each job went, and what arrived. */
    @GET
    @Produces("text/plain;version=0.0.4;charset=utf-8")
    public String metrics() throws IOException, DefinitionException, UnknownNameException {
        Map<String, RunRecord> last = new TreeMap<>(records.latest());
        last.values().removeIf(run -> run.endedAt == null);
        MetricSnapshots all = new MetricSnapshots(
                arrivals(),
                of(
                        last,
                        "hapster_last_run_failed",
                        "1 where the last run of the job failed or was stopped",
                        null,
                        run -> run.state == RunState.FINISHED || run.state == RunState.CANCELLED ? 0 : 1),
                of(
                        last,
                        "hapster_last_run_timestamp",
                        "when the last run of the job ended",
                        Unit.SECONDS,
                        run -> run.endedAt.toEpochMilli() / 1000.0),
                of(
                        last,
                        "hapster_last_run_duration",
                        "how long the last run of the job took",
                        Unit.SECONDS,
                        run -> run.startedAt == null
                                ? 0
                                : Duration.between(run.startedAt, run.endedAt).toMillis() / 1000.0),
                of(
                        last,
                        "hapster_last_run_loaded_rows",
                        "rows that the last run of the job loaded",
                        null,
                        run -> run.rowsLoaded),
                of(
                        last,
                        "hapster_last_run_rejected_rows",
                        "rows that the last run of the job rejected",
                        null,
                        run -> run.rowsRejected),
                of(
                        last,
                        "hapster_last_run_rejected_files",
                        "files that the last run of the job rejected",
                        null,
                        run -> run.filesRejected));
        ByteArrayOutputStream text = new ByteArrayOutputStream();
        PrometheusTextFormatWriter.create().write(text, all);
        return text.toString(StandardCharsets.UTF_8);
    }

    private static GaugeSnapshot of(
            Map<String, RunRecord> last, String name, String help, Unit unit, ToDoubleFunction<RunRecord> value) {
        List<GaugeDataPointSnapshot> points = new ArrayList<>();
        last.forEach((job, run) ->
                points.add(new GaugeDataPointSnapshot(value.applyAsDouble(run), Labels.of("job", job), null)));
        return gauge(name, help, unit, points);
    }

    private static GaugeSnapshot gauge(String name, String help, Unit unit, List<GaugeDataPointSnapshot> points) {
        GaugeSnapshot.Builder gauge = GaugeSnapshot.builder().name(name).help(help);
        if (unit != null) {
            gauge.unit(unit).name(name + "_" + unit);
        }
        points.forEach(gauge::dataPoint);
        return gauge.build();
    }

    private GaugeSnapshot arrivals() throws IOException, DefinitionException, UnknownNameException {
        List<GaugeDataPointSnapshot> points = new ArrayList<>();
        for (CalendarView calendar : calendars.all(null, null)) {
            if (calendar.counts() != null) {
                new TreeMap<>(calendar.counts())
                        .forEach((state, cells) -> points.add(new GaugeDataPointSnapshot(
                                (double) cells, Labels.of("job", calendar.job(), "state", state), null)));
            }
        }
        return gauge(
                "hapster_arrivals",
                "periods in the arrival calendar of the job, by what arrived for them",
                null,
                points);
    }
}
