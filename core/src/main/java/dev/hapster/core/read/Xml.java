package dev.hapster.core.read;

import com.fasterxml.aalto.stax.InputFactoryImpl;
import java.io.InputStream;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamReader;
import org.codehaus.stax2.XMLInputFactory2;

/** Readers of XML that look at nothing but the stream: no external entities, and none that a document declares. */
final class Xml {

    private static final InputFactoryImpl FACTORY = factory();

    private Xml() {
    }

    private static InputFactoryImpl factory() {
        InputFactoryImpl factory = new InputFactoryImpl();
        factory.setProperty(XMLInputFactory.IS_SUPPORTING_EXTERNAL_ENTITIES, false);
        factory.setProperty(XMLInputFactory.IS_NAMESPACE_AWARE, true);
        factory.setProperty(XMLInputFactory.IS_COALESCING, false);
        factory.setProperty(XMLInputFactory2.P_LAZY_PARSING, false); // what is wrong is said where it is met, and as what it is
        return factory;
    }

    static XMLStreamReader open(InputStream in) throws XMLStreamException {
        return FACTORY.createXMLStreamReader(in);
    }
}
