package dev.hapster.core.workspace;

import dev.hapster.core.definition.edit.NamedText;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.workspace.Workspace.Kind;
import java.io.IOException;
import java.nio.file.Files;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;

/**
 * Gives the files of a job or a dataset another name: the definition, in the jobs and queries of a dataset its name,
 * and the folder of its parts. What was cut off is completed by doing it once more. Thread-safe; whoever calls it sees
 * to it that no run of theirs is going on.
 */
public final class Renaming {

    private final Workspace workspace;
    private final PartStore parts;

    public Renaming(Workspace workspace, PartStore parts) {
        this.workspace = workspace;
        this.parts = parts;
    }

    /**
     * Sees whether it can be done, and changes nothing.
     *
     * @param known whether there is a history of the old name, which goes on where somebody has renamed the file
     * @return whether somebody has given the file its new name already
     * @throws UnknownNameException where neither name has a file
     * @throws DefinitionException where the new name is none or is taken, or a file that has to be changed is no YAML
     */
    public boolean check(Kind kind, String from, String to, boolean known)
            throws IOException, DefinitionException, UnknownNameException {
        synchronized (workspace) {
            Set<String> others = new TreeSet<>(workspace.names(kind));
            boolean byHand = known && !others.contains(from) && others.remove(to);
            if (!others.remove(from) && !byHand) {
                throw new UnknownNameException(kind.word(), from, others);
            }
            Workspace.checkNew(kind, to, others);
            named(workspace.text(Workspace.file(kind, byHand ? to : from)), kind, byHand ? to : from, to);
            if (kind == Kind.DATASET) {
                naming(Kind.JOB, "into", from);
                naming(Kind.QUERY, "dataset", from);
                if (!from.equals(to) && parts.holds(from) && parts.holds(to)) {
                    throw wrong(
                            Workspace.file(kind, to),
                            "the store still holds parts of an earlier dataset " + to,
                            "Choose another name");
                }
            }
            return byHand;
        }
    }

    /** Does it, or what is left to be done of it. */
    public void perform(Kind kind, String from, String to)
            throws IOException, DefinitionException, UnknownNameException {
        synchronized (workspace) {
            Set<String> known = workspace.names(kind);
            String old = Workspace.file(kind, from);
            String fresh = Workspace.file(kind, to);
            if (known.contains(from)) {
                String text = named(workspace.text(old), kind, from, to);
                if (!known.contains(to)) {
                    workspace.write(fresh, text);
                } else if (!workspace.text(fresh).equals(text)) {
                    return; // another one of the old name, made since
                }
            } else if (known.contains(to)) {
                String text = workspace.text(fresh);
                String corrected = named(text, kind, to, to);
                if (!corrected.equals(text)) {
                    workspace.write(fresh, corrected);
                }
            }
            if (kind == Kind.DATASET) {
                rename(Kind.JOB, "into", from, to);
                rename(Kind.QUERY, "dataset", from, to);
                parts.rename(from, to);
            }
            if (known.contains(from)) {
                Files.delete(workspace.folder().resolve(old));
                PartStore.force(workspace.folder().resolve(old).getParent());
            }
        }
    }

    private void rename(Kind kind, String key, String from, String to) throws IOException, DefinitionException {
        for (String name : naming(kind, key, from)) {
            String file = Workspace.file(kind, name);
            workspace.write(file, NamedText.of(workspace.text(file), key, to));
        }
    }

    /** Definitions of which the file names a dataset under a key, whatever else is wrong with it. */
    private List<String> naming(Kind kind, String key, String dataset) throws IOException, DefinitionException {
        List<String> found = new ArrayList<>();
        for (String name : workspace.names(kind)) {
            String file = Workspace.file(kind, name);
            String text = workspace.text(file);
            try {
                if (NamedText.in(text, key).filter(dataset::equals).isPresent()) {
                    found.add(name);
                }
            } catch (IllegalArgumentException broken) {
                throw wrong(file, broken.getMessage(), "Correct it first: the dataset it names may have to be changed");
            }
        }
        return found;
    }

    /** The text of a definition with another name. */
    static String named(String text, Kind kind, String from, String to) throws DefinitionException {
        try {
            return NamedText.of(text, kind.word(), to);
        } catch (IllegalArgumentException broken) {
            throw wrong(Workspace.file(kind, from), broken.getMessage(), "");
        }
    }

    private static DefinitionException wrong(String file, String what, String hint) {
        return new DefinitionException(List.of(new Problem(file, 0, 0, what, hint)));
    }
}
