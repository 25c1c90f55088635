package dev.hapster.service.api.query;

import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.query.write.RowStyle;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.QueryParam;
import java.util.Optional;

/** How texts are written, as part of an address. */
public class StyleParameters {

    @QueryParam("separator")
    public String separator;

    @QueryParam("encoding")
    public String encoding;

    @QueryParam("decimal")
    public String decimal;

    @QueryParam("dates")
    public String dates;

    @QueryParam("timestamps")
    public String timestamps;

    @QueryParam("quote_all")
    @DefaultValue("false")
    public boolean quoteAll;

    @QueryParam("header")
    @DefaultValue("true")
    public boolean header;

    @QueryParam("safe")
    @DefaultValue("false")
    public boolean safe;

    @QueryParam("root")
    @DefaultValue("rows")
    public String root;

    @QueryParam("element")
    @DefaultValue("row")
    public String element;

    RowStyle style() throws QueryException {
        return RowStyle.of(
                Optional.ofNullable(separator),
                Optional.ofNullable(encoding),
                Optional.ofNullable(decimal),
                Optional.ofNullable(dates),
                Optional.ofNullable(timestamps),
                quoteAll,
                header,
                safe,
                root,
                element);
    }
}
