package dev.hapster.core.find;

import dev.hapster.core.find.Finding.Trouble;
import dev.hapster.core.find.Listing.Entry;
import dev.hapster.core.remote.RemoteFile;
import dev.hapster.core.remote.RemotePath;
import dev.hapster.core.remote.RemoteStore;
import dev.hapster.core.remote.Remotes;
import java.io.IOException;
import java.nio.file.AccessDeniedException;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Lists a folder on another machine, and its subfolders to a depth. Used once. */
final class RemoteWalk {

    private final RemotePath top;
    private final Roots roots;
    private final int most;

    RemoteWalk(RemotePath top, Roots roots, int most) {
        this.top = top;
        this.roots = roots;
        this.most = most;
    }

    /** Every file, sorted by nothing in particular; what could not be searched is added to {@code troubles}. */
    List<Entry> entries(int depth, List<Trouble> troubles) throws IOException {
        RemoteStore store = roots.remotes().store(top);
        try {
            return Remotes.patiently(() -> entries(store, depth, troubles));
        } catch (NoSuchFileException missing) {
            troubles.add(new Trouble(
                    0, true, "the folder " + top + " does not exist", "Create it there, or correct `folder`"));
        } catch (AccessDeniedException wrong) {
            troubles.add(new Trouble(
                    0,
                    true,
                    wrong.getFile() + " may not be looked into",
                    "Give the user of the account '" + top.account() + "' the right to read it"));
        }
        return List.of();
    }

    private List<Entry> entries(RemoteStore store, int depth, List<Trouble> troubles) throws IOException {
        List<Entry> entries = new ArrayList<>();
        int[] seen = {0};
        store.list(top.below(), depth, file -> {
            seen[0]++;
            if (seen[0] <= most && !file.isDirectory()) {
                entries.add(entry(file));
            }
            return seen[0] <= most;
        });
        if (seen[0] > most) {
            troubles.add(Walk.tooMany(top, most));
        }
        if (seen[0] == 0 && store.hasOnlyFiles()) {
            troubles.add(new Trouble(
                    0,
                    false,
                    "nothing lies below " + top,
                    "Object stores have no empty folders: if something should be there, look at `folder` once more"));
        }
        return entries;
    }

    private Entry entry(RemoteFile file) {
        Path path = top.at(file);
        String relative =
                file.path().substring(top.below().isEmpty() ? 0 : top.below().length() + 1);
        return new Entry(
                path,
                path,
                relative,
                file.size(),
                file.modified(),
                BirthTime.of(path, file),
                hasOddSteps(file.path())
                        ? Optional.of("a part of its name is empty, '.', '..' or holds what no name may hold")
                        : file.isRegularFile()
                                ? Optional.empty()
                                : Optional.of("no ordinary file, or a link to a folder or to nowhere"));
    }

    private static boolean hasOddSteps(String path) {
        for (String step : path.split("/", -1)) {
            if (step.isEmpty() || step.equals(".") || step.equals("..") || step.indexOf('\0') >= 0) {
                return true;
            }
        }
        return false;
    }
}
