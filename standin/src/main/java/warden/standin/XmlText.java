package warden.standin;

import java.io.StringWriter;
import java.util.function.Consumer;
import javax.xml.stream.XMLOutputFactory;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamWriter;

/** Writes a document in XML by the platform's writer. What XML cannot carry at all is written as a replacement character. */
public final class XmlText {
    private static final XMLOutputFactory FACTORY = XMLOutputFactory.newInstance();

    private static final String SCHEMA_INSTANCE = "http://www.w3.org/2001/XMLSchema-instance";

    private final StringWriter text = new StringWriter();
    private final XMLStreamWriter out;

    private XmlText() throws XMLStreamException {
        synchronized (FACTORY) {
            out = FACTORY.createXMLStreamWriter(text);
        }
    }

    /** Writes what stands inside an element. */
    private interface Step {
        void write() throws XMLStreamException;
    }

    private static void run(Step step) {
        try {
            step.write();
        } catch (XMLStreamException impossible) {
            throw new IllegalStateException(impossible);
        }
    }

    /**
     * Returns a document without a declaration.
     *
     * @param space the root's namespace; empty for none
     */
    public static String of(String root, String space, Consumer<XmlText> content) {
        try {
            XmlText xml = new XmlText();
            xml.out.writeStartElement(root);
            if (!space.isEmpty()) {
                xml.out.writeDefaultNamespace(space);
            }
            content.accept(xml);
            xml.out.writeEndElement();
            xml.out.close();
            return xml.text.toString();
        } catch (XMLStreamException impossible) {
            throw new IllegalStateException(impossible);
        }
    }

    /** Returns elements without one that holds them, for {@link #spelled}. */
    public static String elements(Consumer<XmlText> content) {
        try {
            XmlText xml = new XmlText();
            content.accept(xml);
            xml.out.close();
            return xml.text.toString();
        } catch (XMLStreamException impossible) {
            throw new IllegalStateException(impossible);
        }
    }

    /** Adds an element that holds a text; a number or truth value is spelled as it is. */
    public XmlText text(String name, Object value) {
        return element(name, inner -> inner.characters(value));
    }

    /** Adds a text. */
    public XmlText characters(Object value) {
        run(() -> {
            String characters = writable(String.valueOf(value));
            // A carriage return would be read as a line feed.
            for (int from = 0; from <= characters.length(); ) {
                int cut = characters.indexOf('\r', from);
                out.writeCharacters(characters.substring(from, cut < 0 ? characters.length() : cut));
                if (cut < 0) {
                    break;
                }
                out.writeEntityRef("#13");
                from = cut + 1;
            }
        });
        return this;
    }

    /** Adds an element that holds others. */
    public XmlText element(String name, Consumer<XmlText> content) {
        run(() -> {
            out.writeStartElement(name);
            content.accept(this);
            out.writeEndElement();
        });
        return this;
    }

    /** Adds an element with the type that a schema's instance names; other attributes the services do not use. */
    public XmlText typed(String name, String type, Consumer<XmlText> content) {
        run(() -> {
            out.writeStartElement(name);
            out.writeNamespace("xsi", SCHEMA_INSTANCE);
            out.writeAttribute("xsi", SCHEMA_INSTANCE, "type", type);
            content.accept(this);
            out.writeEndElement();
        });
        return this;
    }

    /** Adds elements that are spelled already. */
    public XmlText spelled(String elements) {
        run(() -> {
            out.writeCharacters("");
            out.flush();
            text.write(elements);
        });
        return this;
    }

    private static String writable(String value) {
        StringBuilder writable = new StringBuilder(value.length());
        value.codePoints()
                .map(each ->
                        each == '\t' || each == '\n' || each == '\r' || each >= ' ' && each < 0xFFFE || each > 0xFFFF
                                ? each
                                : 0xFFFD)
                .forEach(writable::appendCodePoint);
        return writable.toString();
    }
}
