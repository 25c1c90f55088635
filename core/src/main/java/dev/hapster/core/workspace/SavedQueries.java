package dev.hapster.core.workspace;

import dev.hapster.core.definition.QueryDef;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.workspace.Workspace.Kind;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.snakeyaml.engine.v2.api.Dump;
import org.snakeyaml.engine.v2.api.DumpSettings;
import org.snakeyaml.engine.v2.common.FlowStyle;

/**
 * The queries of a workspace, each in a file {@code queries/NAME.yaml}. The files are the truth: they are read anew
 * each time. Whether a query suits its dataset is found out by asking it. Thread-safe.
 */
public final class SavedQueries {

    private static final int WIDE = 100;

    private final Workspace workspace;

    public SavedQueries(Workspace workspace) {
        this.workspace = workspace;
    }

    public Set<String> names() throws IOException {
        return workspace.names(Kind.QUERY);
    }

    /**
     * A query.
     *
     * @throws DefinitionException with every mistake in its file
     * @throws UnknownNameException where there is none of that name
     */
    public QueryDef query(String name) throws IOException, DefinitionException, UnknownNameException {
        return Definitions.query(Workspace.file(Kind.QUERY, name), text(name), workspace.datasets());
    }

    /** The text of a query's file, also where it has mistakes. */
    public String text(String name) throws IOException, DefinitionException, UnknownNameException {
        if (!names().contains(name)) {
            throw new UnknownNameException("query", name, names());
        }
        return workspace.text(Workspace.file(Kind.QUERY, name));
    }

    /**
     * Writes a query's file, whole or not at all, or makes one where there is none of that name.
     *
     * @param version of the text that is replaced, as {@link Definitions#version} gives it; empty for a new query
     * @throws Workspace.ChangedException where the file is another one by now
     * @throws DefinitionException where the query has mistakes, or is to be new and there is one of that name
     */
    public QueryDef save(QueryDef query, Optional<String> version)
            throws IOException, DefinitionException, UnknownNameException, Workspace.ChangedException {
        String file = Workspace.file(Kind.QUERY, query.name());
        synchronized (workspace) {
            if (version.isEmpty()) {
                Workspace.checkNew(Kind.QUERY, query.name(), names());
            } else if (!Definitions.version(text(query.name())).equals(version.get())) {
                throw new Workspace.ChangedException(file);
            }
            String text = written(query);
            QueryDef same = Definitions.query(file, text, workspace.datasets());
            Path folder = workspace.folder().resolve(file).getParent();
            Files.createDirectories(folder);
            workspace.write(file, text);
            return same;
        }
    }

    /** Deletes a query's file. */
    public void delete(String name) throws IOException, DefinitionException, UnknownNameException {
        synchronized (workspace) {
            if (!names().contains(name)) {
                throw new UnknownNameException("query", name, names());
            }
            Files.delete(workspace.folder().resolve(Workspace.file(Kind.QUERY, name)));
        }
    }

    private static String written(QueryDef query) {
        Map<String, Object> keys = new LinkedHashMap<>();
        keys.put("query", query.name());
        put(keys, "about", query.about());
        keys.put("dataset", query.dataset());
        put(keys, "where", query.where());
        put(keys, "columns", query.columns());
        put(keys, "by", query.by());
        put(keys, "measures", query.measures());
        put(keys, "sort", query.sort());
        if (query.top() > 0) {
            keys.put("top", query.top());
        }
        DumpSettings settings = DumpSettings.builder()
                .setDefaultFlowStyle(FlowStyle.BLOCK)
                .setIndicatorIndent(2)
                .setIndentWithIndicator(true)
                .setWidth(WIDE)
                .build();
        return new Dump(settings).dumpToString(keys);
    }

    private static void put(Map<String, Object> keys, String key, String text) {
        if (!text.isEmpty()) {
            keys.put(key, text);
        }
    }

    private static void put(Map<String, Object> keys, String key, List<String> texts) {
        if (!texts.isEmpty()) {
            keys.put(key, texts.size() == 1 ? texts.get(0) : texts);
        }
    }
}
