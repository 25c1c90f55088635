package dev.hapster.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import dev.hapster.core.catalogue.Afterwards;
import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.run.act.ActNotPossibleException;
import dev.hapster.core.run.act.Effect;
import dev.hapster.core.run.decide.RunRequest;
import dev.hapster.core.run.load.RunListener;
import dev.hapster.core.run.load.RunState;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Ordinary acts in an order that nobody thought of when each was made. */
class SequencesTest {

    @TempDir
    private Path home;

    private CoreWorkspace work;

    @BeforeEach
    void open() throws IOException {
        work = new CoreWorkspace(home.resolve("w"));
        work.job("");
    }

    @AfterEach
    void close() throws Exception {
        assertThat(work.runner.resettle(work.dataset(), false))
                .as("what is kept is what the log says")
                .isEmpty();
        work.close();
    }

    private Path in(String name) {
        return work.folder.resolve("in").resolve(name);
    }

    @Test
    void aRenamedFileOfAReplacingJobKeepsItsRows() throws Exception {
        work.job("load: replace\n");
        work.file("stock.csv", "a=1 b=2");
        work.run();
        Files.move(in("stock.csv"), in("stock-2026.csv"));
        assertThat(work.run().files()).extracting(FileResult::outcome).containsExactly(Outcome.LOADED);
        assertThat(work.rows()).containsExactly("stock-2026.csv:2 a=1", "stock-2026.csv:3 b=2");
    }

    @Test
    void aBrokenFileAndACopyOfWhatItWasDoubleNothing() throws Exception {
        work.file("x.csv", "a=1 b=2");
        work.run();
        Files.copy(in("x.csv"), in("y.csv"));
        work.raw("x.csv", "what,is,this\n");
        assertThat(work.run().files())
                .extracting(FileResult::outcome)
                .containsExactly(Outcome.REJECTED, Outcome.REJECTED);
        assertThat(work.rows()).containsExactly("x.csv:2 a=1", "x.csv:3 b=2");
        work.file("x.csv", "c=3");
        work.run();
        assertThat(work.rows())
                .as("a copy counts once what it copies does not")
                .containsExactly("x.csv:2 c=3", "y.csv:2 a=1", "y.csv:3 b=2");
    }

    @Test
    void whatWasSweptIsMissedBeforeAnythingIsUndone() throws Exception {
        work.file("a.csv", "a=1");
        work.run();
        work.file("a.csv", "a=2");
        work.run();
        work.sweep();
        assertThat(work.runner.undoEffect(work.dataset(), 2).obstacles())
                .singleElement()
                .asString()
                .contains("no longer kept: those of in/a.csv");
        assertThat(catchThrowableOfType(ActNotPossibleException.class, () -> work.undo(2)))
                .hasMessageContaining("Run 2 cannot be undone");
        assertThat(work.values()).containsExactly("a=2");
    }

    @Test
    void anUndoneUpdateBringsBackTheRowsThatGaveWay() throws Exception {
        work.job("load: update\n");
        work.file("a.csv", "a=1 b=2 c=3");
        work.run();
        work.file("b.csv", "b=20 d=4");
        work.run();
        work.sweep();
        assertThat(work.values()).containsExactly("a=1", "b=20", "c=3", "d=4");
        work.undo(2);
        assertThat(work.values()).containsExactly("a=1", "b=2", "c=3");
        work.undo(3);
        assertThat(work.values()).as("an undo can be undone").containsExactly("a=1", "b=20", "c=3", "d=4");
    }

    @Test
    void aRowThatIsRepairedLateDoesNotWinOverANewerOne() throws Exception {
        for (String way :
                new String[] {"load: update\n", "duplicates: {by: key, within: dataset, then: keep_last}\n"}) {
            try (CoreWorkspace other = new CoreWorkspace(home.resolve(way.substring(0, 4)))) {
                other.job(way);
                other.raw("a.csv", "id,value,op\nk,<1,\nm,1,\n");
                other.run();
                other.file("b.csv", "k=2");
                other.run();
                other.job("map: {value: {clean: [{remove: \"<\"}]}}\n" + way);
                assertThat(other.retry().files())
                        .extracting(FileResult::loaded)
                        .as("it is there, and gives way")
                        .containsExactly(0L);
                assertThat(other.values()).containsExactly("k=2", "m=1");
                other.again();
                assertThat(other.values()).as("loading all anew says the same").containsExactly("k=2", "m=1");
                other.undo(4);
                other.undo(2);
                assertThat(other.values())
                        .as("once the newer one is taken back, the repaired one counts")
                        .containsExactly("k=1", "m=1");
            }
        }
    }

    @Test
    void aDeltaThatComesAgainWithoutARowTakesNothingAway() throws Exception {
        work.job("load: update\n");
        work.file("delta.csv", "a=1 b=2");
        work.run();
        work.file("delta.csv", "a=10");
        work.run();
        assertThat(work.values()).containsExactly("a=10", "b=2");
        work.file("delta.csv", "-b");
        work.job("load: update\ndeleted: \"op == 'del'\"\n");
        work.run();
        assertThat(work.values()).as("only what says so goes").containsExactly("a=10");
    }

    @Test
    void theNextFileOfANameIsAnotherOneOnceTheJobTookTheFirstAway() throws Exception {
        work.job("after: {loaded: {move: done}}\n");
        work.file("daily.csv", "mon=1");
        work.run();
        work.file("daily.csv", "tue=2");
        assertThat(work.run().files()).extracting(FileResult::outcome).containsExactly(Outcome.LOADED);
        assertThat(work.values()).containsExactly("mon=1", "tue=2");
        work.file("daily.csv", "tue=2");
        assertThat(work.run().files())
                .as("the same delivered once more")
                .extracting(FileResult::outcome)
                .containsExactly(Outcome.UNCHANGED);
        assertThat(work.values()).hasSize(2);
        assertThat(in("daily.csv")).as("it is taken away all the same").doesNotExist();
        work.undo(1);
        assertThat(work.values()).containsExactly("tue=2");
    }

    @Test
    void namesMayAddOrReplaceWhereTheFilesStay() throws Exception {
        work.job("same_name: adds\n");
        work.file("daily.csv", "mon=1");
        work.run();
        work.file("daily.csv", "tue=2");
        work.run();
        assertThat(work.values()).containsExactly("mon=1", "tue=2");
    }

    @Test
    void anotherAfterDoesNothingToFilesThatWereLoadedBefore() throws Exception {
        work.raw("a.csv", "id,value,op\na,1,\nb,x,\n");
        work.file("b.csv", "c=1");
        work.run();
        work.job("after: {loaded: delete}\n");
        assertThat(work.run().notes())
                .anyMatch(note -> note.contains("2 files were loaded before `after` said what it says now")
                        && note.contains("--apply-after"));
        assertThat(in("a.csv")).exists();
        assertThat(in("b.csv")).exists();
        RunResult applied = work.run(RunRequest.NOTHING.applyingAfter(true));
        assertThat(applied.files())
                .extracting(file -> file.afterwards().map(Afterwards::words).orElse(""))
                .satisfiesExactly(
                        kept -> assertThat(kept).startsWith("kept: 1 row of it is rejected"),
                        gone -> assertThat(gone).isEqualTo("deleted"));
        assertThat(in("a.csv")).as("rows of it can still be tried again").exists();
        assertThat(in("b.csv")).doesNotExist();
        work.job("map: {value: {empty_as: [x]}}\nafter: {loaded: delete}\n");
        work.write(
                "datasets/north.yaml",
                Files.readString(work.folder.resolve("datasets/north.yaml"))
                        .replace("type: integer, required: true", "type: integer"));
        assertThat(work.retry().files()).extracting(FileResult::loaded).containsExactly(1L);
        assertThat(in("a.csv")).as("nothing of it is rejected any more").doesNotExist();
    }

    /** Files of one name that came one after the other, and were moved away, each with a rejected row. */
    @Test
    void rowsOfTwoFilesOfOneNameAreRepairedInOneRetry() throws Exception {
        String away = "load: append\nafter: {loaded: {move: done}}\n";
        work.job(away);
        work.file("a.csv", "a=1 b=<2");
        work.run();
        work.file("a.csv", "c=<3 d=4 e=5");
        work.run();
        assertThat(work.values()).containsExactly("a=1", "d=4", "e=5");
        work.job("map: {value: {clean: [{remove: \"<\"}]}}\n" + away);
        assertThat(work.retry().files()).extracting(FileResult::loaded).containsExactly(1L, 1L);
        assertThat(work.values()).containsExactly("a=1", "b=2", "c=3", "d=4", "e=5");
        work.undo(2);
        assertThat(work.values()).as("what repairs a file goes with it").containsExactly("a=1", "b=2");
    }

    @Test
    void anUndoSaysThatTheFilesAreGoneAndCanBeUndone() throws Exception {
        work.job("after: {loaded: delete}\n");
        work.file("a.csv", "a=1");
        work.run();
        Effect effect = work.runner.undoEffect(work.dataset(), 1);
        assertThat(effect.out()).isEqualTo(1);
        assertThat(effect.notes())
                .anyMatch(note ->
                        note.contains("in/a.csv was deleted by the job, so that the rows cannot be loaded again"));
        long undo = work.undo(1);
        assertThat(work.values()).isEmpty();
        work.undo(undo);
        assertThat(work.values()).containsExactly("a=1");
    }

    @Test
    void aTrialSaysThatARunWouldStop() throws Exception {
        work.job("rejects: {run_at: 1}\n");
        work.file("a.csv", "a=1");
        work.raw("b.csv", "what,is,this\n");
        RunResult trial = work.trial();
        assertThat(trial.state()).isEqualTo(RunState.STOPPED);
        assertThat(trial.failure()).hasValue("1 of 2 files are rejected, and the job stops at 1 file");
        assertThat(trial.files()).as("and goes on, so that all is told").hasSize(2);
        work.job("load: replace\n");
        work.file("a.csv", "a=1");
        work.run();
        work.raw("a.csv", "what,is,this\n");
        assertThat(work.trial().failure().orElseThrow())
                .startsWith("Every file is rejected, and `load: replace` would");
    }

    @Test
    void aStoppedRunReportsWhatMadeItStopAlsoWhereFilesWaitForTheirOthers() throws Exception {
        work.job("rejects: {run_at: 1}\nafter: {loaded: {move: done}}\n");
        work.raw("b.csv", "what,is,this\n");
        RunResult result = work.run();
        assertThat(result.state()).isEqualTo(RunState.STOPPED);
        assertThat(result.files()).extracting(FileResult::name).containsExactly("b.csv");
    }

    @Test
    void aRunThatReachesNoFileDoesNotSayThatThereAreNone() throws Exception {
        work.job("");
        work.file("a.csv", "a=1");
        RunResult result = work.runner.run(
                work.runner.prepare("north", Map.of()),
                work.number(),
                RunRequest.NOTHING,
                RunListener.NONE,
                () -> true);
        assertThat(result.state()).isEqualTo(RunState.CANCELLED);
        assertThat(result.notes()).isEmpty();
    }

    @Test
    void aColumnThatAConditionAsksForIsUsed() throws Exception {
        work.job("load: update\ndeleted: \"source['op'] == 'del'\"\nread: {extra_columns: []}\n");
        work.file("a.csv", "a=1 b=2 -a");
        RunResult result = work.run();
        assertThat(result.files()).extracting(FileResult::outcome).containsExactly(Outcome.LOADED);
        assertThat(result.files().get(0).notes()).noneMatch(note -> note.contains("not used"));
    }

    @Test
    void anUndoCountsTheRowsThatDifferAndNotWholeFiles() throws Exception {
        work.job("");
        work.file("a.csv", "a=1 b=2 c=3 c=3");
        work.run();
        work.file("a.csv", "a=1 b=9 c=3 c=3 d=4");
        work.run();
        Effect effect = work.runner.undoEffect(work.dataset(), 2);
        assertThat(effect).extracting(Effect::out, Effect::back).containsExactly(2L, 1L);
        assertThat(effect.notes()).containsExactly("3 rows stay as they are: the file has the same before and after");
    }

    @Test
    void aRunThatReplacesSaysHowManyRowsWent() throws Exception {
        work.job("load: replace\n");
        work.file("a.csv", "a=1");
        work.file("b.csv", "b=1 b=2");
        assertThat(work.run().notes()).isEmpty();
        Files.delete(in("b.csv"));
        assertThat(work.trial().notes())
                .containsExactly("2 rows of b.csv would go: `load: replace` keeps only what the job takes now");
        assertThat(work.run().notes())
                .containsExactly("2 rows of b.csv went: `load: replace` keeps only what the job takes now");
        assertThat(work.run().notes()).isEmpty();
    }

    @Test
    void aWorkspaceThatWasMovedKnowsItsFiles() throws Exception {
        work.job("load: replace\n");
        work.file("a.csv", "a=1");
        work.file("b.csv", "b=2");
        work.run();
        work.move(home.resolve("elsewhere/w"));
        assertThat(work.run().files()).extracting(FileResult::outcome).containsOnly(Outcome.UNCHANGED);
        work.file("a.csv", "a=10");
        assertThat(work.run().files())
                .extracting(FileResult::outcome)
                .containsExactly(Outcome.REPLACED, Outcome.UNCHANGED);
        assertThat(work.values()).containsExactly("a=10", "b=2");
    }

    @Test
    void rejectsAreFoundAgainAfterTheWorkspaceWasMoved() throws Exception {
        work.file("a.csv", "a=1 b=<2");
        work.raw("b.csv", "what,is,this\n");
        work.run();
        work.move(home.resolve("elsewhere/w"));
        work.job("map: {value: {clean: [{remove: \"<\"}]}}\nafter: {rejected: {move: bad}}\n");
        RunResult retried = work.retry();
        assertThat(retried.files())
                .filteredOn(file -> file.name().equals("a.csv"))
                .as("the rejected row alone is read, not the whole file")
                .extracting(FileResult::read)
                .containsExactly(1L);
        assertThat(work.rows()).containsExactly("a.csv:2 a=1", "a.csv:3 b=2");
        work.undo(1);
        assertThat(work.rows()).as("a repaired row goes with its file").isEmpty();
    }

    @Test
    void reasonsStandBesideAFileThoughTheWorkspaceWasMovedSinceTheyWereFound() throws Exception {
        work.raw("b.csv", "what,is,this\n");
        work.run();
        work.move(home.resolve("elsewhere/w"));
        work.job("after: {rejected: {move: bad}}\n");
        work.run(RunRequest.NOTHING.applyingAfter(true));
        assertThat(work.folder.resolve("bad/b.csv.reasons.csv")).content().contains("b.csv,", "column-missing");
    }

    @Test
    void aPlaceWithANameIsKnownWhereverItsFolderLies() throws Exception {
        work.write(
                "jobs/north.yaml",
                "job: north\ninto: north\nfind: [{name: lab, folder: in, settle: 0s, take: \"*.csv\"}]\n");
        work.file("a.csv", "a=1");
        work.run();
        Files.move(work.folder.resolve("in"), work.folder.resolve("arrivals"));
        work.write(
                "jobs/north.yaml",
                "job: north\ninto: north\nfind: [{name: lab, folder: arrivals, settle: 0s, take: \"*.csv\"}]\n");
        assertThat(work.run().files()).extracting(FileResult::outcome).containsExactly(Outcome.UNCHANGED);
    }

    @Test
    void aSharedHeaderIsRememberedWhenItsFileLeaves() throws Exception {
        work.job("read: {header: once}\n");
        work.file("1.csv", "a=1");
        work.raw("2.csv", "b,2,\n");
        work.run();
        Path gone = Files.move(in("1.csv"), home.resolve("1.csv"));
        work.raw("3.csv", "c,3,\n");
        assertThat(work.run().files())
                .extracting(FileResult::outcome)
                .containsExactly(Outcome.UNCHANGED, Outcome.LOADED);
        Files.move(gone, in("1.csv"));
        assertThat(work.run().files()).extracting(FileResult::outcome).containsOnly(Outcome.UNCHANGED);
        assertThat(work.values()).containsExactly("a=1", "b=2", "c=3");
    }

    @Test
    void noJobTouchesTheStoreOrTheDefinitions() throws Exception {
        work.file("a.csv", "a=1");
        work.run();
        work.write(
                "jobs/thief.yaml",
                "job: thief\ninto: north\nfind: [{folder: store/parts, depth: 2, settle: 0s, take: \"*\"}]\n"
                        + "read: {as: parquet}\nafter: {loaded: delete}\n");
        assertThat(catchThrowableOfType(DefinitionException.class, () -> work.runner.prepare("thief", Map.of())))
                .hasMessageContaining("belongs to Hapster's own store or definitions");
        work.write(
                "jobs/thief.yaml",
                "job: thief\ninto: north\nfind: [{folder: \".\", depth: 5, settle: 0s, take: "
                        + "\"**/*.parquet\"}]\nread: {as: parquet}\nafter: {loaded: delete}\n");
        assertThat(work.runner.prepare("thief", Map.of()).finding().candidates())
                .as("it does not even see them")
                .noneMatch(file -> file.relative().startsWith("store"));
        work.write(
                "jobs/north.yaml",
                "job: north\ninto: north\nfind: [{folder: in, settle: 0s, take: \"{lab}-*.csv\"}]\n"
                        + "after: {loaded: {move: \"{lab}\"}}\n");
        work.file("jobs-1.csv", "b=1");
        work.file("store-2.csv", "c=1");
        assertThat(work.run().files())
                .extracting(file -> file.afterwards().map(Afterwards::words).orElse(""))
                .allMatch(action -> action.contains("belongs to Hapster's own store or definitions"));
        assertThat(work.folder.resolve("jobs/jobs-1.csv")).doesNotExist();
        assertThat(in("jobs-1.csv")).exists();
        work.job("after: {loaded: {move: store}}\n");
        assertThat(catchThrowableOfType(DefinitionException.class, () -> work.runner.prepare("north", Map.of())))
                .hasMessageContaining("belongs to Hapster's own store or definitions");
        work.job("");
    }

    @Test
    void aReplacingRunOfWhichEveryFileIsRejectedChangesNothing() throws Exception {
        work.job("load: replace\n");
        work.file("a.csv", "a=1");
        work.run();
        work.raw("a.csv", "what,is,this\n");
        RunResult result = work.run();
        assertThat(result.state()).isEqualTo(RunState.STOPPED);
        assertThat(result.failure().orElseThrow())
                .startsWith("Every file is rejected, and `load: replace` would empty the dataset");
        assertThat(work.values()).containsExactly("a=1");
    }

    @Test
    void whatEachStepWouldDoWithAFileIsSaidBeforeAndAfter() throws Exception {
        work.job("after: {loaded: {move: done}, rejected: {copy: bad}}\n");
        work.file("a.csv", "a=1");
        work.raw("b.csv", "what,is,this\n");
        assertThat(work.runner.inspection().check("north", Map.of()).files())
                .extracting(file -> file.afterwards().map(Afterwards::words).orElse(""))
                .containsExactly(
                        "moved to " + work.folder.resolve("done/a.csv"),
                        "copied to " + work.folder.resolve("bad/b.csv"));
        RunResult trial = work.trial();
        assertThat(trial.files())
                .extracting(file -> file.afterwards().map(Afterwards::words).orElse(""))
                .containsExactly(
                        "moved to " + work.folder.resolve("done/a.csv"),
                        "copied to " + work.folder.resolve("bad/b.csv"));
        assertThat(in("a.csv")).exists();
        assertThat(work.run().files())
                .extracting(file -> file.afterwards().map(Afterwards::words).orElse(""))
                .containsExactly(
                        "moved to " + work.folder.resolve("done/a.csv"),
                        "copied to " + work.folder.resolve("bad/b.csv"));
    }
}
