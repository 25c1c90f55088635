package dev.hapster.core.read;

import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.read.bytes.Transcoded;
import dev.hapster.core.read.bytes.Unpacked;
import dev.hapster.core.read.record.Content;
import dev.hapster.core.reason.FileRejectedException;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.Charset;
import java.util.List;

/** Which of several encodings a file is written in. */
public final class Encodings {

    /** Bytes of a file that are looked at. What comes behind them and is no character is rejected where it stands. */
    static final long LOOKED = 32L << 20;

    private Encodings() {}

    /**
     * The rules with the first of the encodings in which all bytes of the beginning are characters, or the last one.
     */
    public static Read chosen(Content content, Read rules) throws IOException, FileRejectedException {
        List<Charset> all = rules.get(ReadSection.ENCODING);
        if (all.size() == 1) {
            return rules;
        }
        for (Charset one : all) {
            if (suits(content, one)) {
                return rules.with(ReadSection.ENCODING, List.of(one));
            }
        }
        return rules.with(ReadSection.ENCODING, List.of(all.get(all.size() - 1)));
    }

    private static boolean suits(Content content, Charset charset) throws IOException, FileRejectedException {
        byte[] block = new byte[1 << 16];
        try (InputStream text = new Transcoded(content.stream(), charset)) {
            long looked = 0;
            for (int count = text.read(block); count >= 0 && looked < LOOKED; count = text.read(block)) {
                looked += count;
            }
            return true;
        } catch (Transcoded.WrongByteException wrong) {
            return false;
        } catch (Unpacked.DamagedException damaged) {
            throw RejectingReader.rejected(damaged);
        }
    }
}
