package dev.hapster.core.draft;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import dev.hapster.core.draft.Draft.ColumnDraft;
import dev.hapster.core.draft.Draft.JobDraft;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.snakeyaml.engine.v2.api.Load;
import org.snakeyaml.engine.v2.api.LoadSettings;

/** Drafts of public files, beside what an expert would write for them. */
class PublicDraftsTest {

    /** Settings that a draft may say only where the expert does. */
    private static final List<String> SETTINGS = List.of(
            "encoding:", "comment:", "names:", "lines_above:", "lines_below:", "quote:", "escape:", "short_rows:");

    @TempDir
    private Path folder;

    @Test
    @SuppressWarnings("unchecked")
    void draftsAreWhatAnExpertWouldWrite() throws Exception {
        Files.createDirectories(folder.resolve("jobs"));
        Files.createDirectories(folder.resolve("datasets"));
        List<Map<String, Object>> experts;
        try (InputStream yaml = getClass().getResourceAsStream("/public-drafts.yaml")) {
            experts =
                    (List<Map<String, Object>>) new Load(LoadSettings.builder().build()).loadFromInputStream(yaml);
        }
        int files = 0;
        int columns = 0;
        int right = 0;
        List<String> wrong = new ArrayList<>();
        ExecutorService workers = Executors.newFixedThreadPool(2);
        try {
            for (Map<String, Object> expert : experts) {
                Path file =
                        Path.of((String) expert.get("file")).toAbsolutePath().normalize();
                if (!Files.exists(file)) {
                    continue; // its package is not installed
                }
                Drafting drafting = DraftTest.drafting(folder, workers, List.of(file.getParent()));
                JobDraft job = drafting.draft(DraftTest.request(file)).jobs().get(0);
                files++;
                List<String> read = (List<String>) expert.get("read");
                assertThat(job.text())
                        .as(file + "\n" + job.text())
                        .contains(read.stream()
                                .map(one -> one.replace("\t", "\\t"))
                                .toList());
                SETTINGS.stream()
                        .filter(setting -> read.stream().noneMatch(one -> one.startsWith(setting)))
                        .forEach(setting ->
                                assertThat(job.text()).as(file.toString()).doesNotContain("  " + setting));
                assertThat(job.rejected()).as(file + " " + job.rejects()).isZero();
                List<String> wanted = ((List<List<String>>) expert.get("columns"))
                        .stream().flatMap(List::stream).toList();
                List<String> drafted =
                        job.columns().stream().map(PublicDraftsTest::said).toList();
                Map<String, String> otherwise = (Map<String, String>) expert.getOrDefault("otherwise", Map.of());
                for (int i = 0; i < wanted.size(); i++) {
                    columns++;
                    String name = wanted.get(i).substring(0, wanted.get(i).indexOf(' '));
                    boolean same = i < drafted.size() && drafted.get(i).equals(wanted.get(i));
                    right += same ? 1 : 0;
                    if (!same && !otherwise.containsKey(name)) {
                        wrong.add(file + ": " + wanted.get(i) + ", and not " + drafted);
                    }
                }
                assertThat(drafted).hasSameSizeAs(wanted);
            }
        } finally {
            workers.shutdownNow();
        }
        assumeTrue(files > 0, "no public files are installed");
        System.out.println("drafts of " + files + " public files: " + right + " of " + columns
                + " columns as an expert would write them");
        assertThat(wrong).isEmpty();
        assertThat(right * 100).isGreaterThanOrEqualTo(columns * 95);
    }

    private static String said(ColumnDraft column) {
        return column.name() + " " + column.type().replaceAll("\\(.*", "") + (column.required() ? "!" : "");
    }
}
