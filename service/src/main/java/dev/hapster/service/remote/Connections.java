package dev.hapster.service.remote;

import dev.hapster.core.definition.AccountDef;
import dev.hapster.core.definition.AccountDef.S3;
import dev.hapster.core.definition.AccountDef.Sftp;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.remote.RemoteFault;
import dev.hapster.core.remote.RemoteStore;
import dev.hapster.core.remote.Remotes;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.work.Stamp;
import java.io.IOException;
import java.util.HashMap;
import java.util.Map;

/**
 * Leads from the accounts of a workspace to the servers behind them. What an account says holds from the next use on;
 * connections stay as long as it says the same. Thread-safe.
 */
public final class Connections implements Remotes.Accounts {

    private final Workspace workspace;
    private final Map<String, Connected> connected = new HashMap<>();

    /** What accounts said when the file was as it is; of those that were used since. */
    private final Map<String, AccountDef> known = new HashMap<>();

    private Stamp file = Stamp.NONE;

    private record Connected(AccountDef account, RemoteStore store) {}

    public Connections(Workspace workspace) {
        this.workspace = workspace;
    }

    @Override
    public RemoteStore store(String scheme, String name) throws RemoteFault {
        AccountDef account = account(scheme, name);
        synchronized (connected) {
            Connected before = connected.get(name);
            if (before != null && before.account.equals(account)) {
                return before.store;
            }
            if (before != null) {
                before.store.close();
            }
            RemoteStore store = account.at() instanceof Sftp sftp
                    ? new SftpStore(account, sftp, workspace.folder())
                    : new S3Store(account, (S3) account.at(), workspace.folder());
            connected.put(name, new Connected(account, store));
            return store;
        }
    }

    private AccountDef account(String scheme, String name) throws RemoteFault {
        AccountDef account;
        try {
            account = read(name);
        } catch (UnknownNameException unknown) {
            throw new RemoteFault(unknown.getMessage() + ". " + unknown.hint(), false, unknown);
        } catch (DefinitionException | IOException wrong) {
            throw new RemoteFault(wrong.getMessage(), false, wrong);
        }
        boolean fits = scheme.equals("sftp") ? account.at() instanceof Sftp : account.at() instanceof S3;
        if (!fits) {
            throw new RemoteFault(
                    "The account '" + name + "' leads to " + account.at().noun() + ", and " + scheme + "://" + name
                            + " wants one that says `" + scheme + ": {…}`",
                    false,
                    null);
        }
        return account;
    }

    private AccountDef read(String name) throws IOException, DefinitionException, UnknownNameException {
        synchronized (known) {
            Stamp now = Stamp.of(workspace.accounts());
            if (!now.equals(file)) {
                known.clear();
                file = now;
            }
            AccountDef account = known.get(name);
            if (account == null) {
                account = workspace.account(name);
                known.put(name, account);
            }
            return account;
        }
    }

    @Override
    public void rest() {
        synchronized (connected) {
            connected.values().forEach(one -> one.store.rest());
        }
    }

    @Override
    public void close() {
        synchronized (connected) {
            connected.values().forEach(one -> one.store.close());
            connected.clear();
        }
    }
}
