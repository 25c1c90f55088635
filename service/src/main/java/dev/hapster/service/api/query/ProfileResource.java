package dev.hapster.service.api.query;

import static dev.hapster.service.api.call.ListParameters.split;

import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.query.profile.ColumnProfile;
import dev.hapster.core.query.profile.ColumnProfile.Bin;
import dev.hapster.core.query.profile.ColumnProfile.Frequent;
import dev.hapster.core.query.profile.ColumnProfile.Gap;
import dev.hapster.core.query.profile.Remarks;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.service.data.StoredRows;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;

/** What the columns of datasets hold. */
@Path("/api/v1/datasets/{dataset}/profile")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "datasets")
@Blocking
public class ProfileResource {

    private static final int MOST_SHOWN = 200;

    private final StoredRows stored;

    ProfileResource(StoredRows stored) {
        this.stored = stored;
    }

    /**
     * What columns hold.
     *
     * @param rows rows that were looked at
     * @param leftOut parts that are missing or damaged and were left out, as was asked for; a sentence each
     */
    public record ProfileView(String dataset, long rows, List<ColumnProfileView> columns, List<String> leftOut) {}

    /**
     * What one column holds. Values are texts: dates and times in ISO 8601, numbers with a point; those of more than
     * 200 characters are cut.
     *
     * @param empty rows without a value
     * @param distinct how many different values there are
     * @param distinctError within which share of itself that number lies, 19 times of 20; 0 where it is exact
     * @param smallest absent where there are no values, as are those that follow where the column has no such thing
     * @param mean of numbers
     * @param deviation of numbers: the standard deviation of all rows
     * @param quantiles of numbers and times
     * @param histogram of numbers and times: stretches of equal width
     * @param frequent the most frequent values
     * @param text of texts
     * @param gaps of dates and timestamps
     * @param remarks what should be looked at
     */
    public record ColumnProfileView(
            String name,
            String type,
            long rows,
            long empty,
            long distinct,
            double distinctError,
            String smallest,
            String largest,
            BigDecimal mean,
            BigDecimal deviation,
            List<QuantileView> quantiles,
            List<BinView> histogram,
            List<FrequentView> frequent,
            TextView text,
            GapsView gaps,
            List<RemarkView> remarks) {}

    /**
     * The value at or below which a share of the rows lies.
     *
     * @param error within which share of the rows its rank lies, 99 times of 100; 0 where it is exact
     */
    public record QuantileView(double share, String value, double error) {}

    /** @param where the condition that its rows satisfy; absent where they are not stored */
    public record BinView(String from, String to, long rows, String where) {}

    /**
     * @param error how many rows more it may be; 0 where it is exact
     * @param where the condition that its rows satisfy; absent where the value is too long
     */
    public record FrequentView(String value, long rows, long error, String where) {}

    /** Lengths in characters. */
    public record TextView(
            int shortest, String shortestValue, int longest, String longestValue, long strayRows, long controlRows) {}

    /** @param usual how many days lie between two days with rows, usually */
    public record GapsView(long days, long usual, List<GapView> longest) {}

    /** No rows lie between two days. */
    public record GapView(String from, String to, long days) {}

    /** @param where the condition that its rows satisfy; absent where there is none */
    public record RemarkView(String what, long rows, String where) {}

    /**
     * What columns hold.
     *
     * @param columns which columns, several times or separated by commas; all where none is named
     * @param where conditions, several times; all must hold
     * @param exact whether nothing is estimated, which takes much longer
     * @param partial whether parts that are missing or damaged are left out; otherwise there is no answer then
     */
    @GET
    public ProfileView profile(
            String dataset,
            @QueryParam("columns") List<String> columns,
            @QueryParam("where") List<String> where,
            @QueryParam("exact") @DefaultValue("false") boolean exact,
            @QueryParam("partial") @DefaultValue("false") boolean partial)
            throws IOException, DefinitionException, UnknownNameException, QueryException {
        List<String> names = split(columns);
        StoredRows.Answer<List<ColumnProfile>> answer = stored.ask(
                dataset,
                partial,
                rows -> exact ? rows.exactProfile(names, where, stored.scratch()) : rows.profile(names, where));
        List<ColumnProfile> profiles = answer.found();
        return new ProfileView(
                dataset,
                profiles.isEmpty() ? 0 : profiles.get(0).rows(),
                profiles.stream().map(profile -> view(profile, true)).toList(),
                answer.leftOut());
    }

    /** @param stored whether the rows are stored, and conditions lead to them */
    static ColumnProfileView view(ColumnProfile profile, boolean stored) {
        List<BinView> bins = new ArrayList<>();
        for (int i = 0; i < profile.histogram().size(); i++) {
            Bin bin = profile.histogram().get(i);
            boolean last = i == profile.histogram().size() - 1;
            bins.add(new BinView(
                    shown(bin.from()),
                    shown(bin.to()),
                    bin.rows(),
                    stored ? Remarks.rowsOf(profile, bin, last) : null));
        }
        return new ColumnProfileView(
                profile.field().name(),
                profile.field().type().toString(),
                profile.rows(),
                profile.empty(),
                profile.distinct().number(),
                profile.distinct().error(),
                shown(profile.smallest()),
                shown(profile.largest()),
                profile.mean().isPresent() ? Remarks.rounded(profile.mean().getAsDouble()) : null,
                profile.deviation().isPresent()
                        ? Remarks.rounded(profile.deviation().getAsDouble())
                        : null,
                profile.quantiles().stream()
                        .map(one -> new QuantileView(one.share(), shown(one.value()), one.error()))
                        .toList(),
                bins,
                profile.frequent().stream()
                        .map(one -> view(profile, one, stored))
                        .toList(),
                profile.text()
                        .map(text -> new TextView(
                                text.shortest(),
                                shown(text.shortestValue()),
                                text.longest(),
                                shown(text.longestValue()),
                                text.strayRows(),
                                text.controlRows()))
                        .orElse(null),
                profile.gaps()
                        .map(gaps -> new GapsView(
                                gaps.days(),
                                gaps.usual(),
                                gaps.longest().stream()
                                        .map(ProfileResource::view)
                                        .toList()))
                        .orElse(null),
                Remarks.of(profile).stream()
                        .map(remark -> new RemarkView(
                                remark.what(),
                                remark.rows(),
                                stored ? remark.where().orElse(null) : null))
                        .toList());
    }

    private static FrequentView view(ColumnProfile profile, Frequent one, boolean stored) {
        return new FrequentView(
                shown(one.value()),
                one.rows(),
                one.error(),
                stored ? Remarks.rowsOf(profile, one.value()).orElse(null) : null);
    }

    private static GapView view(Gap gap) {
        return new GapView(gap.from().toString(), gap.to().toString(), gap.days());
    }

    private static String shown(Comparable<?> value) {
        if (value == null) {
            return null;
        }
        String text = dev.hapster.core.query.value.Texts.of(value);
        return text.length() <= MOST_SHOWN ? text : text.substring(0, MOST_SHOWN) + "…";
    }
}
