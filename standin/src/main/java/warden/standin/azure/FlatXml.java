package warden.standin.azure;

import java.io.ByteArrayInputStream;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamReader;
import warden.standin.Refusal;

/** Reads documents of one level: a root that holds elements that hold texts. Nothing outside the document is read for it. */
final class FlatXml {
    private FlatXml() {}

    /**
     * Returns the elements below the root, each with its text, in their order.
     *
     * @throws Refusal when it is no such document
     */
    static List<Map.Entry<String, String>> elements(byte[] document, String root) {
        List<Map.Entry<String, String>> elements = new ArrayList<>();
        XMLInputFactory factory = XMLInputFactory.newFactory();
        factory.setProperty(XMLInputFactory.SUPPORT_DTD, false);
        factory.setProperty(XMLInputFactory.IS_SUPPORTING_EXTERNAL_ENTITIES, false);
        try {
            XMLStreamReader reader = factory.createXMLStreamReader(new ByteArrayInputStream(document));
            while (reader.hasNext()) {
                if (reader.next() == XMLStreamConstants.START_ELEMENT
                        && !reader.getLocalName().equals(root)) {
                    String name = reader.getLocalName();
                    elements.add(Map.entry(name, reader.getElementText()));
                }
            }
        } catch (XMLStreamException broken) {
            throw new Refusal(400, "InvalidXmlDocument", "The XML specified is not syntactically valid.");
        }
        return elements;
    }
}
