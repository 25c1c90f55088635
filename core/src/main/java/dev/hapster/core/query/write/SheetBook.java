package dev.hapster.core.query.write;

import dev.hapster.core.query.value.QueryException;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.channels.SeekableByteChannel;
import java.util.ArrayList;
import java.util.Enumeration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import javax.xml.XMLConstants;
import javax.xml.parsers.DocumentBuilderFactory;
import javax.xml.parsers.ParserConfigurationException;
import javax.xml.transform.TransformerException;
import javax.xml.transform.TransformerFactory;
import javax.xml.transform.dom.DOMSource;
import javax.xml.transform.stream.StreamResult;
import org.apache.commons.compress.archivers.zip.ZipArchiveEntry;
import org.apache.commons.compress.archivers.zip.ZipArchiveOutputStream;
import org.apache.commons.compress.archivers.zip.ZipFile;
import org.w3c.dom.Document;
import org.w3c.dom.Element;
import org.w3c.dom.Node;
import org.w3c.dom.NodeList;
import org.xml.sax.SAXException;

/**
 * A workbook (Office Open XML, ECMA-376) into one sheet of which rows are to be written. All parts but that sheet, and
 * the lists that name it, are taken over byte by byte. Not thread-safe.
 */
final class SheetBook implements AutoCloseable {

    private static final String MAIN = "http://schemas.openxmlformats.org/spreadsheetml/2006/main";
    private static final String LINKS = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";
    private static final String PACKAGE_LINKS = "http://schemas.openxmlformats.org/package/2006/relationships";
    private static final String SHEET_TYPE =
            "application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml";
    private static final String TYPES_FILE = "[Content_Types].xml";
    private static final String BOOK_FILE = "xl/workbook.xml";
    private static final String LINKS_FILE = "xl/_rels/workbook.xml.rels";
    private static final String STYLES_FILE = "xl/styles.xml";
    private static final int MOST_FILES = 10_000;
    private static final int MOST_BYTES = 16 << 20;

    /** Numbers of cell formats that rows need. */
    record Styles(int header, int day, int moment) {}

    private final ZipFile zip;
    private final Map<String, Document> changed = new LinkedHashMap<>();
    private final Set<String> dropped = new TreeSet<>();
    private final String part;
    private final boolean there;
    private final Styles styles;

    /**
     * Finds the sheet, or makes room for it behind the others.
     *
     * @throws QueryException where it is no workbook, or one that cannot be written into
     */
    SheetBook(SeekableByteChannel book, String sheet) throws IOException, QueryException {
        if (sheet.isBlank() || sheet.length() > 31 || sheet.matches(".*[\\[\\]:*?/\\\\\\p{Cntrl}].*")) {
            throw new QueryException("A sheet cannot be called '" + sheet
                    + "': a name has 1 to 31 characters, and none of [ ] : * ? / \\");
        }
        zip = open(book);
        boolean whole = false;
        try {
            Document list = document(BOOK_FILE);
            if (!MAIN.equals(list.getDocumentElement().getNamespaceURI())) {
                throw new QueryException("It is not a workbook that can be written into: save it as "
                        + "'Excel workbook (.xlsx)', not as a strict one");
            }
            Document links = document(LINKS_FILE);
            Element found = named(list, sheet);
            there = found != null;
            part = there ? target(links, found.getAttributeNS(LINKS, "id")) : add(list, links, sheet);
            if (there && hasTable()) {
                throw new QueryException(
                        "The sheet '" + sheet + "' has a table, or one that sums up, of which the rows "
                                + "cannot be replaced here. Write into another sheet, and let it look at that");
            }
            styles = styles();
            recalculate(list, links);
            whole = true;
        } finally {
            if (!whole) {
                zip.close();
            }
        }
    }

    private static ZipFile open(SeekableByteChannel book) throws IOException, QueryException {
        ZipFile zip;
        try {
            zip = ZipFile.builder().setSeekableByteChannel(book).get();
        } catch (IOException broken) {
            throw new QueryException("It is not a workbook (.xlsx), or one with a password: " + broken.getMessage());
        }
        int files = 0;
        for (Enumeration<ZipArchiveEntry> all = zip.getEntries(); all.hasMoreElements(); all.nextElement()) {
            files++;
        }
        if (files > MOST_FILES || zip.getEntry(BOOK_FILE) == null || zip.getEntry(TYPES_FILE) == null) {
            zip.close();
            throw new QueryException("It is not a workbook (.xlsx)");
        }
        return zip;
    }

    private static DocumentBuilderFactory builders() throws ParserConfigurationException {
        DocumentBuilderFactory factory = DocumentBuilderFactory.newDefaultInstance();
        factory.setNamespaceAware(true);
        factory.setFeature(XMLConstants.FEATURE_SECURE_PROCESSING, true);
        factory.setFeature("http://apache.org/xml/features/disallow-doctype-decl", true);
        return factory;
    }

    private Document document(String file) throws IOException, QueryException {
        if (changed.containsKey(file)) {
            return changed.get(file);
        }
        ZipArchiveEntry entry = zip.getEntry(file);
        if (entry == null) {
            throw new QueryException("It is not a workbook that can be written into: it has no " + file);
        }
        try (InputStream in = zip.getInputStream(entry)) {
            byte[] bytes = in.readNBytes(MOST_BYTES + 1);
            if (bytes.length > MOST_BYTES) {
                throw new QueryException("It is not a workbook that can be written into: " + file + " has more than "
                        + (MOST_BYTES >> 20) + " MiB");
            }
            Document document = builders().newDocumentBuilder().parse(new ByteArrayInputStream(bytes));
            changed.put(file, document);
            return document;
        } catch (SAXException | ParserConfigurationException wrong) {
            throw new QueryException(
                    "It is not a workbook that can be written into: " + file + " is not XML: " + wrong.getMessage());
        }
    }

    private static Iterable<Element> elements(Node in, String namespace, String name) {
        NodeList all = in instanceof Document document
                ? document.getElementsByTagNameNS(namespace, name)
                : ((Element) in).getElementsByTagNameNS(namespace, name);
        List<Element> found = new ArrayList<>();
        for (int i = 0; i < all.getLength(); i++) {
            found.add((Element) all.item(i));
        }
        return found;
    }

    private static Element named(Document list, String sheet) {
        for (Element one : elements(list, MAIN, "sheet")) {
            if (one.getAttribute("name").equalsIgnoreCase(sheet)) {
                return one;
            }
        }
        return null;
    }

    private String target(Document links, String id) throws QueryException {
        for (Element link : elements(links, PACKAGE_LINKS, "Relationship")) {
            if (link.getAttribute("Id").equals(id) && link.getAttribute("Type").endsWith("/worksheet")) {
                String file = file(link);
                if (zip.getEntry(file) != null) {
                    return file;
                }
            }
        }
        throw new QueryException("The sheet has no cells, but a chart or the like. Name another one");
    }

    /** Whether the sheet has ranges with a meaning of their own, which would no longer fit. */
    private boolean hasTable() throws IOException, QueryException {
        int slash = part.lastIndexOf('/');
        String file = part.substring(0, slash) + "/_rels" + part.substring(slash) + ".rels";
        if (zip.getEntry(file) == null) {
            return false;
        }
        Document links = document(file);
        changed.remove(file);
        for (Element link : elements(links, PACKAGE_LINKS, "Relationship")) {
            if (link.getAttribute("Type").matches(".*/(table|pivotTable)")) {
                return true;
            }
        }
        return false;
    }

    /** The file within the workbook that a link of the list of sheets leads to. */
    private static String file(Element link) {
        String to = link.getAttribute("Target");
        return to.startsWith("/") ? to.substring(1) : "xl/" + to;
    }

    /** A sheet behind the others. */
    private String add(Document list, Document links, String sheet) throws IOException, QueryException {
        int number = 1;
        while (zip.getEntry("xl/worksheets/sheet" + number + ".xml") != null) {
            number++;
        }
        Set<String> ids = new TreeSet<>();
        elements(links, PACKAGE_LINKS, "Relationship").forEach(link -> ids.add(link.getAttribute("Id")));
        String id = "rIdHapster";
        while (ids.contains(id)) {
            id += "1";
        }
        Element link = links.createElementNS(PACKAGE_LINKS, "Relationship");
        link.setAttribute("Id", id);
        link.setAttribute("Type", LINKS + "/worksheet");
        link.setAttribute("Target", "worksheets/sheet" + number + ".xml");
        links.getDocumentElement().appendChild(link);
        long last = 0;
        Element sheets = null;
        for (Element one : elements(list, MAIN, "sheet")) {
            last = Math.max(
                    last, Long.parseLong("0" + one.getAttribute("sheetId").replaceAll("\\D", "")));
        }
        for (Element one : elements(list, MAIN, "sheets")) {
            sheets = one;
        }
        if (sheets == null) {
            throw new QueryException("It is not a workbook that can be written into: it names no sheets");
        }
        Element entry = list.createElementNS(MAIN, qualified(sheets, "sheet"));
        entry.setAttribute("name", sheet);
        entry.setAttribute("sheetId", Long.toString(last + 1));
        entry.setAttributeNS(LINKS, "r:id", id);
        sheets.appendChild(entry);
        Document types = document(TYPES_FILE);
        Element type = types.createElementNS(types.getDocumentElement().getNamespaceURI(), "Override");
        type.setAttribute("PartName", "/xl/worksheets/sheet" + number + ".xml");
        type.setAttribute("ContentType", SHEET_TYPE);
        types.getDocumentElement().appendChild(type);
        return "xl/worksheets/sheet" + number + ".xml";
    }

    /** A name with the prefix that its neighbours have. */
    private static String qualified(Element like, String name) {
        return like.getPrefix() == null ? name : like.getPrefix() + ":" + name;
    }

    /** Formulas that look at the sheet are found out anew when the workbook is opened. */
    private void recalculate(Document list, Document links) throws IOException, QueryException {
        Element properties = null;
        for (Element one : elements(list, MAIN, "calcPr")) {
            properties = one;
        }
        if (properties == null) {
            Element root = list.getDocumentElement();
            properties = list.createElementNS(MAIN, qualified(root, "calcPr"));
            Node behind = null; // in the order of the standard it stands behind sheets and names
            for (Node one = root.getFirstChild(); one != null; one = one.getNextSibling()) {
                if (Set.of("sheets", "functionGroups", "externalReferences", "definedNames")
                        .contains(String.valueOf(one.getLocalName()))) {
                    behind = one;
                }
            }
            root.insertBefore(properties, behind == null ? null : behind.getNextSibling());
        }
        properties.setAttribute("fullCalcOnLoad", "1");
        for (Element link : elements(links, PACKAGE_LINKS, "Relationship")) {
            if (link.getAttribute("Type").endsWith("/calcChain")) {
                String file = file(link);
                link.getParentNode().removeChild(link);
                dropped.add(file);
                Document types = document(TYPES_FILE);
                for (Element type : elements(types, types.getDocumentElement().getNamespaceURI(), "Override")) {
                    if (type.getAttribute("PartName").equals("/" + file)) {
                        type.getParentNode().removeChild(type);
                    }
                }
            }
        }
    }

    private Styles styles() throws IOException, QueryException {
        Document document = document(STYLES_FILE);
        Element root = document.getDocumentElement();
        Element formats = list(root, "cellXfs");
        Element fonts = list(root, "fonts");
        if (formats == null || fonts == null) {
            throw new QueryException("It is not a workbook that can be written into: it names no formats of cells");
        }
        Element bold = document.createElementNS(MAIN, qualified(root, "font"));
        bold.appendChild(document.createElementNS(MAIN, qualified(root, "b")));
        Element name = document.createElementNS(MAIN, qualified(root, "name"));
        name.setAttribute("val", "Calibri");
        Element size = document.createElementNS(MAIN, qualified(root, "sz"));
        size.setAttribute("val", "11");
        bold.appendChild(size);
        bold.appendChild(name);
        int font = append(fonts, bold);
        Element numbers = list(root, "numFmts");
        if (numbers == null) {
            numbers = document.createElementNS(MAIN, qualified(root, "numFmts"));
            root.insertBefore(numbers, root.getFirstChild());
        }
        int next = 164; // those before are built in
        for (Element one : elements(numbers, MAIN, "numFmt")) {
            next = Math.max(
                    next,
                    1 + Integer.parseInt("0" + one.getAttribute("numFmtId").replaceAll("\\D", "")));
        }
        return new Styles(
                format(document, formats, font, 0),
                format(document, formats, 0, number(document, numbers, next, "yyyy-mm-dd")),
                format(document, formats, 0, number(document, numbers, next + 1, "yyyy-mm-dd hh:mm:ss")));
    }

    private static Element list(Element root, String name) {
        for (Node one = root.getFirstChild(); one != null; one = one.getNextSibling()) {
            if (name.equals(one.getLocalName())) {
                return (Element) one;
            }
        }
        return null;
    }

    private static int number(Document document, Element numbers, int id, String code) {
        Element number = document.createElementNS(MAIN, qualified(numbers, "numFmt"));
        number.setAttribute("numFmtId", Integer.toString(id));
        number.setAttribute("formatCode", code);
        int unused = append(numbers, number);
        return id;
    }

    private static int format(Document document, Element formats, int font, int number) {
        Element format = document.createElementNS(MAIN, qualified(formats, "xf"));
        format.setAttribute("numFmtId", Integer.toString(number));
        format.setAttribute("fontId", Integer.toString(font));
        format.setAttribute("fillId", "0");
        format.setAttribute("borderId", "0");
        format.setAttribute("xfId", "0");
        format.setAttribute(font > 0 ? "applyFont" : "applyNumberFormat", "1");
        return append(formats, format);
    }

    /** Puts an element behind the others of a list that says how many it has; gives its number. */
    private static int append(Element list, Element one) {
        list.appendChild(one);
        int count = 0;
        for (Node each = list.getFirstChild(); each != null; each = each.getNextSibling()) {
            count += each instanceof Element ? 1 : 0;
        }
        list.setAttribute("count", Integer.toString(count));
        return count - 1;
    }

    Styles formats() {
        return styles;
    }

    /** Whether the workbook has the sheet. */
    boolean isThere() {
        return there;
    }

    /** The file of the sheet within the workbook. */
    String part() {
        return part;
    }

    /** The sheet as it is. */
    InputStream sheet() throws IOException {
        return zip.getInputStream(zip.getEntry(part));
    }

    /** Writes all but the sheet. */
    void copyOthers(ZipArchiveOutputStream out) throws IOException {
        for (Enumeration<ZipArchiveEntry> all = zip.getEntriesInPhysicalOrder(); all.hasMoreElements(); ) {
            ZipArchiveEntry entry = all.nextElement();
            String name = entry.getName();
            if (name.equals(part) || dropped.contains(name)) {
                continue;
            }
            if (changed.containsKey(name)) {
                out.putArchiveEntry(new ZipArchiveEntry(name));
                out.write(bytes(changed.get(name)));
                out.closeArchiveEntry();
            } else {
                out.addRawArchiveEntry(entry, zip.getRawInputStream(entry));
            }
        }
    }

    private static byte[] bytes(Document document) throws IOException {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try {
            document.setXmlStandalone(true);
            TransformerFactory.newDefaultInstance()
                    .newTransformer()
                    .transform(new DOMSource(document), new StreamResult(bytes));
        } catch (TransformerException wrong) {
            throw new IOException(wrong.getMessage(), wrong);
        }
        return bytes.toByteArray();
    }

    @Override
    public void close() throws IOException {
        zip.close();
    }
}
