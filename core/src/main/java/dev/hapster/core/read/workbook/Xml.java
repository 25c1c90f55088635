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

    private static final InputFactoryImpl FACTORY = factory();

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
        return FACTORY.createXMLStreamReader(new Runs(in));
    }

    /** Ends a stream in which no tag begins or ends for so long that what lies between could not be held in memory. */
    private static final class Runs extends BlockInput {
        private static final int MOST = 8 << 20;

        private final InputStream in;
        private int run;

        Runs(InputStream in) {
            this.in = in;
        }

        @Override
        public int read(byte[] target, int offset, int length) throws IOException {
            int count = in.read(target, offset, length);
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

        @Override
        public void close() throws IOException {
            in.close();
        }
    }
}
