package dev.hapster.service.api.prepare;

import dev.hapster.core.definition.AccountDef;
import dev.hapster.core.definition.AccountDef.S3;
import dev.hapster.core.definition.AccountDef.Sftp;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.find.Roots;
import dev.hapster.core.remote.RemoteFile;
import dev.hapster.core.remote.RemotePath;
import dev.hapster.core.remote.Remotes;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.api.prepare.FoldersResource.FileIn;
import dev.hapster.service.api.prepare.FoldersResource.FolderContent;
import dev.hapster.service.api.prepare.FoldersResource.SubFolder;
import jakarta.ws.rs.NotFoundException;
import java.io.IOException;
import java.nio.file.NoSuchFileException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.TreeMap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Folders of other machines, for a person who looks for files. */
final class FoldersElsewhere {

    private static final Logger LOG = LoggerFactory.getLogger(FoldersElsewhere.class);

    private final Workspace workspace;
    private final Roots roots;
    private final int mostListed;
    private final int mostLooked;

    /**
     * @param mostListed files that are named
     * @param mostLooked files and folders that are looked at
     */
    FoldersElsewhere(Workspace workspace, Roots roots, int mostListed, int mostLooked) {
        this.workspace = workspace;
        this.roots = roots;
        this.mostListed = mostListed;
        this.mostLooked = mostLooked;
    }

    /** The tops of all accounts behind which files lie; none where what is declared of them cannot be read. */
    List<SubFolder> tops() throws IOException {
        List<SubFolder> tops = new ArrayList<>();
        try {
            new TreeMap<>(workspace.accountsByName()).forEach((name, account) -> scheme(account, name, tops));
        } catch (DefinitionException wrong) {
            LOG.debug("Accounts are not listed", wrong); // whoever uses one is told
        }
        return tops;
    }

    private static void scheme(AccountDef account, String name, List<SubFolder> tops) {
        if (account.at() instanceof Sftp) {
            tops.add(new SubFolder("sftp://" + name, "sftp://" + name, null));
        } else if (account.at() instanceof S3) {
            tops.add(new SubFolder("s3://" + name, "s3://" + name, null));
        }
    }

    FolderContent content(RemotePath at) throws IOException {
        List<SubFolder> folders = new ArrayList<>();
        List<FileIn> files = new ArrayList<>();
        int[] seen = {0};
        try {
            Remotes.patiently(() -> {
                folders.clear();
                files.clear();
                seen[0] = 0;
                roots.remotes().store(at).list(at.below(), 0, file -> {
                    add(at.at(file), file, folders, files);
                    return ++seen[0] < mostLooked;
                });
                return true;
            });
        } catch (NoSuchFileException missing) {
            throw new NotFoundException("There is no folder " + at, missing);
        }
        folders.sort(Comparator.comparing(SubFolder::name));
        files.sort(Comparator.comparing(FileIn::name));
        String above = at.below().isEmpty() ? "" : String.valueOf(at.getParent());
        return new FolderContent(
                at.toString(),
                above,
                folders,
                files.stream().limit(mostListed).toList(),
                Math.max(0, files.size() - mostListed));
    }

    private static void add(RemotePath path, RemoteFile file, List<SubFolder> folders, List<FileIn> files) {
        String name = String.valueOf(path.getFileName());
        if (file.isDirectory()) {
            folders.add(new SubFolder(name, path.toString(), null));
        } else if (file.isRegularFile() && !name.startsWith(".")) {
            files.add(new FileIn(name, path.toString(), file.size(), file.modified()));
        }
    }
}
