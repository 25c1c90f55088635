package dev.hapster.core.read.workbook;

import com.fasterxml.aalto.stax.InputFactoryImpl;
import dev.hapster.core.read.bytes.BlockInput;
import dev.hapster.core.read.bytes.Unpacked;
import java.io.IOException;
import java.io.InputStream;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamReader;
import org.codehaus.stax2.XMLInputFactory2;

/** Readers of XML that look at nothing but the stream: no external entities, and none that a document declares. */
public final class Xml {

    private Xml() {}

    private static InputFactoryImpl factory() {
        InputFactoryImpl factory = new InputFactoryImpl();
        factory.setProperty(XMLInputFactory.IS_SUPPORTING_EXTERNAL_ENTITIES, false);
        factory.setProperty(XMLInputFactory.IS_NAMESPACE_AWARE, true);
        factory.setProperty(XMLInputFactory.IS_COALESCING, false);
        factory.setProperty(
                XMLInputFactory2.P_LAZY_PARSING, false); // what is wrong is said where it is met, and as what it is
        return factory;
    }

    public static XMLStreamReader open(InputStream in) throws XMLStreamException {
        return factory().createXMLStreamReader(new Runs(in)); // the names that one file uses stay its own
    }

    /**
     * Ends a stream in which no tag begins or ends for so long that what lies between could not be held in memory, and
     * one with a tag of very many attributes, which would take hours.
     */
    private static final class Runs extends BlockInput {
        private static final int MOST = 8 << 20;
        private static final int MOST_EQUALS = 20_000;

        private final InputStream in;
        private int run;
        private int equals;
        private boolean inTag;

        Runs(InputStream in) {
            this.in = in;
        }

        @Override
        public int read(byte[] target, int offset, int length) throws IOException {
            int count = in.read(target, offset, length);
            countEquals(target, offset, count);
            int from = offset + Math.max(count, 0);
            while (from > offset && target[from - 1] != '<' && target[from - 1] != '>') {
                from--;
            }
            run = from > offset ? offset + count - from : run + Math.max(count, 0);
            if (run > MOST) {
                throw new Unpacked.DamagedException(
                        "holds more than " + MOST / 1_000_000
                                + " MB between two tags; nothing that anybody writes does",
                        null);
            }
            return count;
        }

        private void countEquals(byte[] target, int offset, int count) throws IOException {
            for (int i = offset; i < offset + count; i++) {
                byte b = target[i];
                if (b == '<' || b == '>') {
                    inTag = b == '<';
                    equals = 0;
                } else if (b == '=' && inTag && ++equals > MOST_EQUALS) {
                    throw new Unpacked.DamagedException(
                            "has a tag with more than " + MOST_EQUALS + " attributes; nothing that anybody writes does",
                            null);
                }
            }
        }

        @Override
        public void close() throws IOException {
            in.close();
        }
    }
}
