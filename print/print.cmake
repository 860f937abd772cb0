ivrant_module(NAME print USES base geometry parts model bonds pose stand make verdict files render LIBRARIES Qt6::Core Qt6::Gui SOURCES
  print/pictures.cpp print/guide_pdf.cpp print/guide_html.cpp print/compare_sheet.cpp)
