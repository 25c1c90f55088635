package dev.hapster.service.notify;

import dev.hapster.core.definition.AccountDef;
import dev.hapster.core.definition.AccountDef.Encryption;
import dev.hapster.core.definition.AccountDef.Mail;
import dev.hapster.core.workspace.Secrets;
import jakarta.mail.AuthenticationFailedException;
import jakarta.mail.MessagingException;
import jakarta.mail.SendFailedException;
import jakarta.mail.Session;
import jakarta.mail.Transport;
import jakarta.mail.internet.AddressException;
import jakarta.mail.internet.InternetAddress;
import jakarta.mail.internet.MimeMessage;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.Date;
import java.util.Properties;

/** Sends mail (SMTP, RFC 5321). */
final class MailSender {

    private static final String MILLIS_TO_WAIT = "20000";
    private static final int ENCRYPTED_FROM_THE_BEGINNING = 465;

    private MailSender() {}

    static void send(AccountDef account, Mail mail, Path workspace, Message message) throws SendException {
        try {
            Session session = Session.getInstance(properties(mail));
            MimeMessage letter = new MimeMessage(session) {
                @Override
                protected void updateMessageID() throws MessagingException {
                    // the same at each try, so that whoever gets it twice is shown it once
                    setHeader("Message-ID", "<" + message.id() + "@hapster>");
                }
            };
            letter.setFrom(new InternetAddress(mail.from()));
            letter.setRecipient(jakarta.mail.Message.RecipientType.TO, new InternetAddress(message.to()));
            letter.setSubject(message.subject(), StandardCharsets.UTF_8.name());
            letter.setSentDate(Date.from(message.at()));
            letter.setHeader("Auto-Submitted", "auto-generated"); // RFC 3834: nobody's absence note is wanted
            letter.setText(message.text(), StandardCharsets.UTF_8.name());
            letter.saveChanges();
            try (Transport transport = session.getTransport()) {
                if (mail.user().isPresent()) {
                    transport.connect(mail.user().get(), password(account, mail, workspace));
                } else {
                    transport.connect();
                }
                transport.sendMessage(letter, letter.getAllRecipients());
            }
        } catch (AuthenticationFailedException wrong) {
            throw new SendException(
                    "The mail server " + mail + " does not let " + mail.user().orElse("anybody")
                            + " in. Look at user and password of the account " + account.name(),
                    true,
                    wrong);
        } catch (AddressException wrong) {
            throw new SendException(
                    "'" + wrong.getRef() + "' is not an address that mail can be sent to", false, wrong);
        } catch (SendFailedException wrong) {
            throw new SendException(
                    "The mail server " + mail + " does not take the message: " + said(wrong), false, wrong);
        } catch (MessagingException wrong) {
            throw new SendException(
                    "The mail server " + mail + " cannot be reached: " + said(wrong)
                            + ". Are host, port and encryption " + "of the account " + account.name() + " right?",
                    true,
                    wrong);
        } catch (IOException wrong) {
            throw new SendException(
                    "The password of the account " + account.name() + " cannot be read: " + wrong, true, wrong);
        }
    }

    private static String password(AccountDef account, Mail mail, Path workspace) throws SendException, IOException {
        try {
            return Secrets.read(
                    mail.password().orElseThrow(), "The password of the account " + account.name(), workspace);
        } catch (Secrets.MissingException missing) {
            throw new SendException(missing.getMessage(), true, missing);
        }
    }

    private static String said(MessagingException wrong) {
        Exception deepest = wrong;
        while (deepest instanceof MessagingException inner && inner.getNextException() != null) {
            deepest = inner.getNextException();
        }
        return String.valueOf(deepest.getMessage()).strip();
    }

    private static Properties properties(Mail mail) {
        boolean smtps = mail.port() == ENCRYPTED_FROM_THE_BEGINNING && mail.encryption() != Encryption.OFF;
        Properties properties = new Properties();
        properties.put("mail.transport.protocol", "smtp");
        properties.put("mail.smtp.host", mail.host());
        properties.put("mail.smtp.port", String.valueOf(mail.port()));
        properties.put("mail.smtp.auth", String.valueOf(mail.user().isPresent()));
        properties.put("mail.smtp.ssl.enable", String.valueOf(smtps));
        properties.put("mail.smtp.starttls.enable", String.valueOf(mail.encryption() != Encryption.OFF && !smtps));
        properties.put("mail.smtp.starttls.required", String.valueOf(mail.encryption() != Encryption.OFF && !smtps));
        properties.put("mail.smtp.ssl.checkserveridentity", String.valueOf(mail.encryption() == Encryption.VERIFIED));
        if (mail.encryption() == Encryption.REQUIRED) {
            properties.put("mail.smtp.ssl.trust", "*");
        }
        for (String wait : new String[] {"connectiontimeout", "timeout", "writetimeout"}) {
            properties.put("mail.smtp." + wait, MILLIS_TO_WAIT);
        }
        return properties;
    }
}
